"""The window. It holds no truth of its own: it shows a plan and sends commands."""
