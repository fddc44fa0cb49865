"""What the user has decided: choices, pins, sections, homework, the document."""
