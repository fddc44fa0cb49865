"""The border: whatever comes in from outside goes through here before anything trusts it."""
