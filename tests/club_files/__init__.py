"""Files as clubs keep them, made up: each with what it says in truth, and what somebody who keeps it would answer.

One seed gives the same files each time. ``KINDS`` lists the shapes; each varies in separators, signs, days and heads.
"""

from tests.club_files import long, others, wide
from tests.club_files.made import KINDS, NUMBERS, PEOPLE, Made, made_files

__all__ = ["KINDS", "NUMBERS", "PEOPLE", "Made", "long", "made_files", "others", "wide"]
