"""Inks, hues, spacing and fonts: one frozen object a theme."""
