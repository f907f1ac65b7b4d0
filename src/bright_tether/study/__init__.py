"""The study as a frozen value, and every change to it as an edit."""
