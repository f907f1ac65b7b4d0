"""Pieces of the window that stay while the steps change."""
