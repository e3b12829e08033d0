"""The one cheap test that is asked for, its answers, and what they tell: held against SciPy's entropy."""

from dataclasses import replace

import numpy as np
import pytest
from scipy.stats import entropy

from keencoat.core.errors import UnknownNameError
from keencoat.core.inspect import CAUSES, TESTS, chances_of, explain, require_answer
from keencoat.core.inspect.explain import _bits
from keencoat.core.rating import Rating
from tests.core.test_inspect import TYPICAL, case


def test_information_is_that_of_scipy():
    """A yes in 9 of 10 under one cause and 2 of 10 under the other: what each holds, less what both hold jointly."""
    answers, belief = np.array([[0.9, 0.2], [0.1, 0.8]]), np.array([0.3, 0.7])
    joint = answers * belief
    apart = entropy(joint.sum(axis=0), base=2) + entropy(joint.sum(axis=1), base=2)
    assert _bits(answers, belief) == pytest.approx(apart - entropy(joint.ravel(), base=2))
    assert _bits(np.array([[0.5, 0.5], [0.5, 0.5]]), np.array([0.3, 0.7])) == pytest.approx(0)


@pytest.mark.parametrize("key", TESTS)
def test_each_test_parts_what_it_names(key):
    test = TESTS[key]
    chances = test.chances(list(CAUSES))
    assert chances.sum(axis=0) == pytest.approx(np.ones(len(CAUSES)))
    assert set(test.says) <= set(CAUSES)
    assert test.usual in test.answers
    for cause, said in test.says.items():
        answer = said if isinstance(said, str) else said[0]
        column = test.chances([cause, "coat_left over"])
        assert column[list(test.answers).index(answer), 0] > 0.3


def test_what_is_asked_parts_the_first_two_and_is_not_asked_twice():
    told = case(Rating.FAINT, "coat_left", "no_mark")
    first = explain(told)
    assert first.ask is not None
    top, second = (r.cause.key for r in first.ranked[:2])
    parted = first.ask.chances([top, second])
    assert np.abs(parted[:, 0] - parted[:, 1]).max() > 0.4
    told = replace(told, answers={first.ask.key: first.ask.usual})
    again = explain(told)
    assert again.ask is None or again.ask.key != first.ask.key
    assert explain(TYPICAL["set_askew"]).ask is None or explain(TYPICAL["set_askew"]).ranked[0].chance < 0.9


def bits(answers, belief):
    """Mutual information, bits, by SciPy's entropy."""
    belief = belief / belief.sum()
    each = [entropy(column, base=2) for column in answers.T]
    return entropy(answers @ belief, base=2) - float(np.dot(each, belief))


def test_what_is_asked_tells_most_of_the_eight_likeliest_for_its_minutes():
    """The rule by itself: no test where the first is 90 in 100 sure; of those that part the first two by 0.15 bits the
    one with most bits over minutes to the power of 0.35; where none does, of those that part the eight by as much."""
    asked, of_more = [], 0
    told = [TYPICAL[key] for key in CAUSES]
    told += [case(rating, *seen) for rating in Rating for seen in ((), ("patchy",), ("detail_lost",), ("streaks",))]
    told += [replace(one, answers={"gauge": "yes", "to_the_light": "alike"}) for one in told]
    for one in told:
        causes, _, chance = chances_of(one)
        order = np.argsort(-chance)[:8]
        worth, parting = {}, {}
        for key in TESTS.keys() - one.answers:
            answers = TESTS[key].chances([causes[n].key for n in order])
            worth[key] = bits(answers, chance[order]) / TESTS[key].minutes ** 0.35
            parting[key] = bits(answers[:, :2], chance[order[:2]]), bits(answers, chance[order])
        parts_two = [key for key, (of_two, _) in parting.items() if of_two >= 0.15]
        parts_more = [key for key, (_, of_all) in parting.items() if of_all >= 0.15]
        of_more += not parts_two and bool(parts_more) and chance[order[0]] < 0.9
        worth = {key: worth[key] for key in parts_two or parts_more}
        wanted = max(worth, key=worth.get) if worth and chance[order[0]] < 0.9 else None
        ask = explain(one).ask
        assert (ask.key if ask else None) == wanted
        asked.append(wanted)
    assert None in asked
    assert len(set(asked)) > 6
    assert of_more > 3


def test_answers_are_those_of_the_test():
    require_answer("gauge", "no")
    with pytest.raises(UnknownNameError, match="figures"):
        require_answer("gauge2", "no")
    with pytest.raises(UnknownNameError, match="passes"):
        require_answer("figures", "colour")
