"""Plectrum plans bow direction and bow distribution for string teachers."""

__version__ = "0.1.0"
