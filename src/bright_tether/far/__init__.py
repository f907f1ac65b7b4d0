"""Tables that stay where they are: larger than memory, gone through by an engine."""
