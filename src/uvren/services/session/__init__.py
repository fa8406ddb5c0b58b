"""The evening: a session, what each did in it, and what comes in from files and devices."""
