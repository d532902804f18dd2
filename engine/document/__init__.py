"""The project file: typed, validated, written back."""
