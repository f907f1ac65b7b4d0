"""The invented survey, and the script that makes it."""
