"""What each step says, from its results."""
