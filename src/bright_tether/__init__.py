"""Bright Tether: explain and forecast one measurement from another."""
