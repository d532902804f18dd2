"""From places to metal: what the shop cuts, drills and sets out."""
