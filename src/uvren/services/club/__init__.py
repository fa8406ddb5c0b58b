"""Who is who and who may what: accounts, invitations, permissions, what was done by whom, and a person's own data."""
