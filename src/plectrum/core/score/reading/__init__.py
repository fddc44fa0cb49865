"""Scores of every kind made into documents of record."""
