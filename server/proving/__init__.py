"""What was found on the floor: proved headless and over HTTP."""
