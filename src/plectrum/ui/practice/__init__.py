"""The Practice screen: ladders, drills, the week and the timer."""
