"""What is said about a plan: reasons, warnings, remedies, faults, comparison, difficulty."""
