"""The Piece screen: the written notes, typed and corrected, and what the page says at a glance."""
