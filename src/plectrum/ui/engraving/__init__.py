"""The engraved staff: a child process draws it, the window shows it."""
