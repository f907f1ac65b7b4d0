"""What the desktop is told: entry, icon, file type, metadata."""
