"""What was drawn against what was built: cycles, weigh-ins, settings, gates."""
