"""The Show screen: the bow in motion, for the student."""
