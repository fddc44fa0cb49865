"""The bow as it moves: the road, the cards, the hand; for tunes and for exercises."""
