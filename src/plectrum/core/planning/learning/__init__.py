"""What printed or kept bowings teach: the costs of directions and joins, fitted to their marks."""
