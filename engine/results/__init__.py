"""What was solved, as the plain values of the result file."""
