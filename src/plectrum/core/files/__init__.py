"""Files: the plan file, and what a plan is exported to."""
