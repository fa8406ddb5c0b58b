"""Coming back: a clinician's answers and restrictions, and trials of rest."""
