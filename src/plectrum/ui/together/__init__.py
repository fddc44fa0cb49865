"""The Together screen: all parts under each other, who plays them, and what to settle."""
