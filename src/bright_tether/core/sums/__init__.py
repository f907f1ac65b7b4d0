"""Sums that merge: made of any part of the rows, joined with those of any other part."""
