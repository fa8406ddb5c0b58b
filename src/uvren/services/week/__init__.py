"""The week ahead: plan against room, person by person, solved and saved."""
