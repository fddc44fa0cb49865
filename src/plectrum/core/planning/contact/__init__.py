"""Where the hair runs between bridge and fingerboard, and how heavy it lies there."""
