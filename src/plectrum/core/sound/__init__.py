"""What a plan sounds like: a bowed string, a plucked one and a click, as arrays of samples."""
