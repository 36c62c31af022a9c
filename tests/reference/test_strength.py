"""Repetitions at a share of the best against the usual training-load table (from memory)."""

import pytest
from oaken.physiology.strength import most_reps, share_for


@pytest.mark.parametrize(
    ("reps", "share"),
    [(1, 1.0), (2, 0.95), (3, 0.93), (4, 0.90), (5, 0.87), (6, 0.85), (7, 0.83), (8, 0.80), (9, 0.77), (10, 0.75),
     (12, 0.67), (15, 0.65)],
)  # fmt: skip
def test_the_rows_of_the_table(reps: int, share: float) -> None:
    """Usual training-load table of strength handbooks (values from memory)."""
    assert share_for(reps) == pytest.approx(share)
    assert most_reps(share) == reps


def test_between_and_beyond_the_rows_more_repetitions_never_go_with_more_load() -> None:
    shares = [share_for(reps / 2) for reps in range(2, 120)]
    assert shares == sorted(shares, reverse=True)
    assert share_for(11) == pytest.approx(0.70)
    assert min(shares) >= 0.2
