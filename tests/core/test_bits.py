"""The arithmetic of advice beside the plain way: for each outcome every fault by itself."""

import math
import random

import numpy as np
import pytest

from wiretrace.diagnosis.bits import covering, entropy, once


@pytest.mark.parametrize("seed", range(20))
def test_what_each_outcome_leaves_is_as_counted_one_fault_after_the_other(seed: int) -> None:
    chance, most = random.Random(seed), 12
    # Up to three ranges a fault, some in each other, some apart; rows stand in the order of their faults.
    fault = sorted(chance.choices(range(6), k=14))
    ranges = [sorted(chance.sample(range(most + 1), 2)) for _ in fault]
    weights = [0.5, 1.0, 2.0, 0.25, 3.0, 1.5]
    plain = [
        sum(
            weights[one]
            for one in set(fault)
            if any(b <= at < e for (b, e), whose in zip(ranges, fault, strict=True) if whose == one)
        )
        for at in range(most)
    ]
    begins, ends = np.array(ranges).T
    begins, ends, whose = once(begins, ends, np.array(fault), most)
    assert covering(begins, ends, np.array(weights)[whose], most) == pytest.approx(plain)


def test_bits_of_outcomes_that_are_alike_and_that_are_not() -> None:
    outcome = np.array([[0, 0, 0, 0], [0, 1, 2, 3], [0, 0, 1, 1]], dtype=np.int32)
    quarter = np.full((3, 4), 0.25)
    assert entropy(outcome, quarter) == pytest.approx([0.0, 2.0, 1.0])
    uneven = np.array([[0.5, 0.25, 0.125, 0.125]] * 3)
    assert entropy(outcome, uneven) == pytest.approx([0.0, 1.75, -0.75 * math.log2(0.75) - 0.25 * math.log2(0.25)])
