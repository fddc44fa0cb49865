"""Exercises without a tune: rows of one model, patterns of notes, and what is made of them."""
