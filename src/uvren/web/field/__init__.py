"""Resources of the session as it runs."""
