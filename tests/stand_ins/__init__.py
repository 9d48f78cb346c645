"""Small simulations of what a server has beside it."""
