"""What the steps say, held against another road: NumPy and SciPy on the raw pairs."""
