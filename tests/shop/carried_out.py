"""The shop: jobs lived by a hand and looked at; ``python -m tests.shop.carried_out 100 [FIRST]`` prints the table."""

import sys
from collections import Counter
from copy import copy

from tests.shop.hand import Hand
from tests.shop.judged.feeding import judge_feeds
from tests.shop.judged.finishing import judge_cables, judge_finish, judge_gaps
from tests.shop.judged.joints import judge_joints
from tests.shop.judged.plan import judge, judge_statements, lacks
from tests.shop.judged.setting import covered, judge_setting

ROOMS = (judge, judge_setting, judge_joints, judge_feeds, judge_gaps, judge_cables, judge_finish)


def looked_at(lived):
    """Everything that is broken in a job as it was lived; what can't be obeyed is told once and left out after."""
    whole = copy(lived)
    whole.said = [s for s in lived.said if not lacks(s)]
    return [*judge_statements(lived), *(b for room in ROOMS for b in room(whole))]


def carry_out(seed, desk=None):
    """A job of a seed lived from its survey to its last figure, and what is broken in it."""
    lived = Hand(seed, desk).live()
    return lived, looked_at(lived)


def table(seeds):
    """How many jobs are broken by kind; how often U covers the truth; one example of each kind."""
    kinds, examples, within = Counter(), {}, []
    for seed in seeds:
        lived, broken = carry_out(seed)
        within += [inside for _, inside, *_ in covered(lived)]
        for b in broken:
            examples.setdefault(b.kind, f"{seed} {lived.truth.kind} {b.axis}: {b.what}")
        kinds.update({b.kind for b in broken})
    return kinds, within, examples


def main(count, first):
    kinds, within, examples = table(range(first, first + count))
    print(f"{count} jobs from seed {first}, broken by kind:")
    for kind, n in kinds.most_common():
        print(f"{n:5d}  {kind:<20} {examples[kind]}")
    print(f"U covers the truth in {sum(within)} of {len(within)} displays judged.")


if __name__ == "__main__":
    main(int(sys.argv[1]), int(sys.argv[2]) if len(sys.argv) > 2 else 0)
