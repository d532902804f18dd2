"""Places from pictures of coded stickers: one bundle adjustment with all other readings, in the vehicle's own axes."""
