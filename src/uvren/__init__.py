"""Uvren: how much room each athlete has today, what sets that limit, and what to do about it."""

__version__ = "0.1.0"
