"""Which string and finger play each note."""
