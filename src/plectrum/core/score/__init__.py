"""What is written: reading scores, their model, and writing bow marks back."""
