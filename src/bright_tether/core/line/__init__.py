"""The fitted line, its tests and its rows."""
