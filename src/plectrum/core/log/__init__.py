"""What was done and measured, kept in a database of the user's own."""
