"""The tables of each step, as they are read on screen and in the write-up."""
