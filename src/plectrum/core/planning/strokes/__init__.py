"""Which way each stroke goes, how it joins and where it lies: costs and one exact program."""
