"""The study as a frozen value, every change to it as an edit, its file and its journal."""
