"""What is open and how it is changed: the session, its edits, work in threads."""
