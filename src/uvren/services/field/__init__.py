"""The session as it runs: what is noted at the pitch, and what devices send meanwhile."""
