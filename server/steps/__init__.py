"""The order of the work over HTTP: what comes next in a job in hand, and in each of the shop's jobs."""
