"""Choosing parts for a geometry that is known."""
