"""What a match is, of a position and of one person, and what is too rare to measure by."""

import numpy as np

from uvren.core.demands import OWN, own_references, percent, references, short_of


def test_a_match_is_what_those_of_a_position_had_who_played_most_of_it():
    load = np.array([[400.0, 100.0], [500.0, np.nan], [90.0, 10.0], [300.0, 50.0]])
    found = references(
        ["wing", "wing", "wing", "back"], np.array([1.0, 0.6, 0.2, 0.7]), load, np.array([60.0, 40, 12, 45])
    )
    np.testing.assert_allclose(found["wing"].load, [450.0, 100.0])
    assert (found["wing"].n, found["back"].n, found[""].n) == (2, 1, 3)
    np.testing.assert_allclose(found[""].load, [400.0, 75.0])
    np.testing.assert_allclose(short_of(found["wing"], np.array([500.0, np.nan])), [0.0, 100.0])
    assert "goalkeeper" not in references(["goalkeeper"], np.array([0.5]), load[:1], np.ones(1))
    # Of a minute only those minutes count of which the load is known.
    np.testing.assert_allclose(found["wing"].a_minute, [900 / 100, 100 / 60])
    assert found["wing"].minutes == 50
    np.testing.assert_allclose(found["wing"].spread, [np.std([400, 500], ddof=1), np.nan])


def test_own_matches_count_from_four_of_them_on():
    share = np.array([1.0, 1.0, 0.7, 0.5, 0.6, 1.0])
    load = np.arange(6.0)[:, None] * 100
    assert own_references([3] * 4 + [4] * 2, share[:6], load, share[:6]) == {}
    found = own_references([3] * 6, share, load, share)
    assert found[3].n == OWN + 1
    np.testing.assert_allclose(found[3].load, [np.mean([0, 100, 200, 400, 500])])


def test_what_most_matches_do_not_have_is_no_measure():
    load = np.array([[40.0, 0.0], [60.0, 0.0], [50.0, 30.0]])
    found = references(["keeper"] * 3, np.ones(3), load, np.ones(3))["keeper"]
    assert found.rare.tolist() == [False, True]
    np.testing.assert_allclose(percent(found, np.array([25.0, 10.0])), [50.0, np.nan])


def test_a_figure_that_no_match_is_known_of_is_missing_and_not_nothing():
    found = references(["wing"], np.ones(1), np.array([[np.nan]]), np.ones(1))["wing"]
    assert np.isnan(percent(found, np.array([10.0]))).all()
