"""Loads as units hold them: every one can be set, is the nearest, and changes take the seconds they take."""

from __future__ import annotations

from itertools import product

import pytest
from hypothesis import given
from hypothesis import strategies as st
from oaken.domain.room.hardware import LB_KG, Implement, Implements, PlatePair, Plates, Stack, settable_kg
from oaken.physiology.strength.loading import as_set, change_s, loadings, plates_a_side, warm_up_sets

PLATES = Plates(bar_kg=20, plates=tuple(PlatePair(kg=kg, pairs=n) for kg, n in ((20, 2), (10, 1), (5, 1), (2.5, 1))))
STACK = Stack(steps_kg=tuple(float(kg) for kg in range(5, 105, 5)), add_ons_kg=(1.25, 2.5))
BELLS = Implements(in_hand=2, by_mass=tuple(Implement(kg=kg, count=1) for kg in (4, 6, 8, 12, 16)))


@given(
    st.lists(st.sampled_from([0.5, 1, 1.25, 2.5, 5, 10, 15, 20, 25]), unique=True, min_size=1, max_size=4),
    st.lists(st.integers(1, 3), min_size=4, max_size=4),
    st.floats(0, 200),
)
def test_plates_a_side_are_the_fewest_that_make_up_the_nearest_load(
    kinds: list[float], pairs: list[int], wanted: float
) -> None:
    """Checked against every way to put plates on."""
    held = list(zip(kinds, pairs, strict=False))
    bar = Plates(bar_kg=20, plates=tuple(PlatePair(kg=kg, pairs=n) for kg, n in held))
    ways: dict[float, int] = {}
    for counts in product(*(range(n + 1) for _, n in held)):
        load = round(20 + 2 * sum(kg * count for (kg, _), count in zip(held, counts, strict=True)), 3)
        ways[load] = min(ways.get(load, 99), sum(counts))
    made = as_set(bar, wanted)
    assert abs(made.set_kg - wanted) == pytest.approx(min(abs(load - wanted) for load in ways))
    assert 20 + 2 * sum(made.a_side_kg) == pytest.approx(made.set_kg)
    assert len(made.a_side_kg) == ways[made.set_kg]
    for kg, n in held:
        assert made.a_side_kg.count(kg) <= n
    assert made.a_side_kg == sorted(made.a_side_kg, reverse=True)


def test_what_cannot_be_made_up_is_refused() -> None:
    with pytest.raises(ValueError, match="cannot be made up"):
        plates_a_side(PLATES, 21)


@given(st.floats(1, 120))
def test_a_stack_is_pinned_with_as_few_add_ons_as_can_be(wanted: float) -> None:
    made = as_set(STACK, wanted)
    assert made.pin_kg is not None
    assert made.pin_kg + sum(made.add_ons_kg) == pytest.approx(made.set_kg)
    assert made.set_kg in settable_kg(STACK)
    assert all(abs(made.set_kg - wanted) <= abs(load - wanted) for load in settable_kg(STACK))


def test_words_tell_how_to_set_it() -> None:
    assert as_set(PLATES, 97).words == "bar 20 kg, a side: 20 + 10 + 5 + 2.5"
    assert as_set(PLATES, 5).words == "bar 20 kg, a side: no plates"
    assert as_set(STACK, 38).words == "pin at 35 + 2.5 kg"
    assert as_set(BELLS, 25).words == "2 × 12 kg"
    assert as_set(None, 41.3).words == "about 41.5 kg"
    assert as_set(PLATES, 140).share_off == pytest.approx(-5 / 140)


def test_pounds_round_to_their_own_hardware() -> None:
    pound_bar = Plates(
        marked="lb",
        bar_kg=round(45 * LB_KG, 3),
        plates=tuple(PlatePair(kg=round(lb * LB_KG, 3), pairs=2) for lb in (45, 25, 10, 5, 2.5)),
    )
    made = as_set(pound_bar, 61)
    assert made.words == "bar 45 lb, a side: 45"
    assert made.set_kg == pytest.approx(135 * LB_KG, abs=0.01)
    # the same wish on a kilogram bar of the same kind
    assert as_set(PLATES, 61).set_kg == 60


def test_a_drop_takes_what_can_be_reached_in_the_seconds_there_are() -> None:
    # 37.5 kg a side to 27.5 is one plate off, to 20 two more; each costs a change of 5 s
    free = loadings(PLATES, [95, 76, 61], 5)
    assert [item.load.set_kg for item in free] == [95, 75, 60]
    assert [item.change_s for item in free] == [0, 5, 10]
    hurried = loadings(PLATES, [95, 76, 61], 5, within_s=5)
    assert [item.load.set_kg for item in hurried] == [95, 75, 65]
    assert [item.change_s for item in hurried] == [0, 5, 5]
    assert hurried[2].load.wanted_kg == 61
    # a pin is moved at once, and with no time at all nothing changes
    assert [loading.change_s for loading in loadings(STACK, [60, 48], 4, within_s=5)] == [0, 4]
    assert [loading.load.set_kg for loading in loadings(STACK, [60, 48], 4, within_s=1)] == [60, 60]


def test_a_change_counts_the_plates_that_move() -> None:
    sixty, seventy = as_set(PLATES, 60), as_set(PLATES, 70)
    assert sixty.a_side_kg == [20]
    assert change_s(sixty, seventy, 6) == 6
    assert change_s(sixty, sixty, 6) == 0
    assert change_s(as_set(BELLS, 8), as_set(BELLS, 32), 6) == 6


def test_warm_up_sets_do_not_tire() -> None:
    (light, many), (heavier, fewer) = warm_up_sets(STACK, 100)
    assert (light.set_kg, many, heavier.set_kg, fewer) == (20, 15, 30, 12)
