"""Resources of this stage, and what comes in."""
