"""What is practised away from the piece: drills for the bow, computed for a player and bow."""
