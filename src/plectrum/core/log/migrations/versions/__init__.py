"""The steps from the first version of the log to the present one."""
