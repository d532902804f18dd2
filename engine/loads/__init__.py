"""What the wheel force does to every joint, rod and mount."""
