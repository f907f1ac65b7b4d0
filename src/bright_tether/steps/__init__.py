"""The catalogue: one module a step, and the list of them."""
