"""The opened-up calculation behind a figure."""
