"""The whole vehicle on its wheels."""
