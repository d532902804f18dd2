"""What leaves the shop's computer for its benches: drawings, templates, lists."""
