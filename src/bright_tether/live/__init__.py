"""Every result of a tether, kept until what it was made from changes."""
