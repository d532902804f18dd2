"""Tools that say what they read by themselves. Each has a stand-in here, for a shop without it and for the tests."""
