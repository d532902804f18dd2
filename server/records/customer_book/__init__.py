"""The book that a customer keeps: what was wanted, how it stands, what it is set to, and how that is known."""
