"""What a squad sets up: its people, limits, units of work, fitness tests and notices."""
