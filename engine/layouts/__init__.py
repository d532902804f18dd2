"""Every arrangement as data: named points and how to measure them, bodies, a starting geometry, what to ask."""
