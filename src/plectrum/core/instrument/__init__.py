"""Strings and bows of the four instruments, with the numbers and their standing."""
