"""The season: its phases."""
