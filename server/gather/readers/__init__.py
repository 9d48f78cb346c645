"""Reading uploaded files, each hostile until shown otherwise, in a process of their own."""
