"""Drawings that a bench works from, as data: lines by their meaning, dimensions, labels; laid out once, drawn by several pens."""
