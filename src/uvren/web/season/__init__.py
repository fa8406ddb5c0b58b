"""Resources of the season."""
