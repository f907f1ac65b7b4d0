"""What a scatter looks like, from stated measures."""
