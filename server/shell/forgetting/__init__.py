"""Erasing a person or a document for good: what is gone (``reach``), what it leaves behind in words elsewhere
(``traces``), and the erasing itself (``actions``)."""
