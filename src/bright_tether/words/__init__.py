"""Numbers, causes and findings put into words."""
