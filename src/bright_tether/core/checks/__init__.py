"""Checks of a line through its residuals."""
