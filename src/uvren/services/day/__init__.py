"""The one day of a squad that everything else reads: loads, facts, and the plan as it stands."""
