"""The Bowing screen: the score with its bow path, and the selected note beside it."""
