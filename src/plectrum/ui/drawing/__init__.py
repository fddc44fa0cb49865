"""What several screens draw: the score with its bow path, signs, strips, the bow."""
