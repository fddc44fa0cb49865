"""What a player can do, and the school the teacher follows."""
