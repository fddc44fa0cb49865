"""Several parts bowed as one: where rhythms match, bows go, join and lie alike."""
