"""The Player screen: the bow, what the player can do, and the school, with what each changes."""
