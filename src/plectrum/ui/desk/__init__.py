"""What all screens share: the open document, the services around it, and what a screen is."""
