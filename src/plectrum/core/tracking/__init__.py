"""A bow that is followed: its samples line by line, a stand-in for it, and how well it kept to the
plan."""
