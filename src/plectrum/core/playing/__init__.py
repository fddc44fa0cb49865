"""A plan in time: where the bow is at every moment, for eye, ear and a bow that is followed."""
