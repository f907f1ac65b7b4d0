"""Every picture, for the screen and for export."""
