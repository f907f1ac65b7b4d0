"""Tables of cases: columns, kinds, and the readers that bring them in."""
