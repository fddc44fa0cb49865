"""The Practice screen: ladders, exercises, routines, the week and the clock."""
