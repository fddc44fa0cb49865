"""Speed and growth, printed as milliseconds and ratios. Run with `make bench`."""
