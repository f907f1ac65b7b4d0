"""One stage for each step of the path."""
