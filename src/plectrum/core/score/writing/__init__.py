"""Changing what is written: notes typed, edited, transposed, and tunes made from scratch."""
