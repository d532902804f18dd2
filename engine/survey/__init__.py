"""Tape, plumb line, level, angle finder and photographs into places, with how well each is known."""
