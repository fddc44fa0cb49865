"""Changes of the log's tables, one file each, in order."""
