"""The results as one account: plain data and plain text."""
