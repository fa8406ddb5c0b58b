"""Open formats in and out: bytes to plain records, and back."""
