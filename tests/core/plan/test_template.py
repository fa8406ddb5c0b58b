"""For whom a plan was written, and what is other for whoever it is given to."""

from dataclasses import replace

import numpy as np
import pytest

from uvren.core.plan.template import NOTHING_SAID, Whom, WrittenFor, differs

LIFTERS = WrittenFor(years_least=3, years_most=None, sport="handball", sport_days=2, longest=90)
THEY = Whom(np.array([4.0, 6.0]), "handball", sport_days=2, longest=90, week=1500)


def of(written=LIFTERS, plan=(90.0, 1500.0), **other):
    return differs(written, Whom(**(vars(THEY) | other)), *plan)


def test_given_to_those_it_was_written_for_nothing_differs():
    assert of() == []
    assert of(NOTHING_SAID, sport="", years=np.array([np.nan])) == []


@pytest.mark.parametrize(
    ("other", "said"),
    [
        ({"years": np.array([0.25])}, "Written for 3 years of training or more; here it is 0.2."),
        ({"years": np.array([0.2, 5, 2.9])}, "Written for 3 years of training or more; 2 of 3 have less."),
        ({"years": np.array([0.2, 5])}, "Written for 3 years of training or more; 1 of 2 has less."),
        ({"years": np.array([np.nan])}, "Nobody has said the years of training."),
        ({"years": np.array([np.nan, 4])}, "Nobody has said the years of training of 1 of 2."),
        ({"sport": "Rowing"}, "Written for handball; this is Rowing."),
        ({"sport": ""}, "Written for handball; nobody has said what sport this is for."),
        ({"sport_days": 5.0}, "Written beside 2 days of sport a week; here there are 5."),
        ({"longest": 60.0}, "Its longest session is 90 min; of the last weeks here the longest was 60."),
        ({"longest": np.nan},
         "Its longest session is 90 min; nothing of the kind was done here in the last weeks."),
        ({"week": 1000.0}, "Its heaviest week is 1.5 times what is usual here in work of the kind."),
    ],
)  # fmt: skip
def test_each_way_in_which_they_are_others_is_one_sentence(other, said):
    assert of(**other) == [said]


def test_a_plan_for_beginners_says_who_is_past_it():
    written = replace(NOTHING_SAID, years_most=1)
    assert of(written, years=np.array([0.5])) == []
    assert of(written, years=np.array([3.0])) == ["Written for at most 1 year of training; here it is 3.0."]


def test_a_plan_that_is_longer_than_it_says_of_itself_says_so():
    assert of(plan=(95.0, 1500.0)) == ["Written for sessions of up to 90 min; its own longest is 95."]


def test_less_is_no_difference():
    assert of(sport_days=1.0, longest=120.0, week=3000.0) == []
    assert of(sport="HANDBALL") == []
