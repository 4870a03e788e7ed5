"""A planner of the tests' own: quarter hour by quarter hour, with what a person would do next, and nothing shared."""

QUARTER = 4


def plan_by_quarters(steps, first, rooms, days=4000):
    """Per key its [day, quarters] pairs; steps are dictionaries, hours in quarters; ``rooms`` quarters of a day."""
    left = {s["key"]: s["quarters"] for s in steps}
    spent = {s["key"]: {} for s in steps}
    over, longest, in_hand = {}, max(rooms(first + n) for n in range(366)), None
    by_key = {s["key"]: s for s in steps}

    def ready(step, day):
        waited = all(n in over and over[n] + by_key[n]["wait"] <= day for n in step["needs"])
        return waited and all(n in over and over[n] <= day for n in step["at_once"])

    def work(step, day):
        if left[step["key"]]:
            left[step["key"]] -= 1
            spent[step["key"]][day] = spent[step["key"]].get(day, 0) + 1
        if left[step["key"]] == 0:
            over[step["key"]] = day

    for day in range(first, first + days):
        room, moved = rooms(day), True
        while moved:
            moved = False
            for step in steps:
                if step["key"] not in over and not left[step["key"]] and step["pin"] is None and ready(step, day):
                    work(step, day)
                    moved = True
        for step in steps:
            if step["pin"] == day and step["key"] not in over and ready(step, day):
                whole = left[step["key"]]
                for _ in range(max(1, whole)):
                    work(step, day)
                room = max(0, room - whole)
        while True:
            if in_hand is None:
                for step in steps:
                    key = step["key"]
                    fits = not step["whole"] or left[key] <= room or left[key] > longest
                    early = step["pin"] is not None and day < step["pin"]
                    if key not in over and ready(step, day) and fits and not early:
                        in_hand = step if room or not left[key] else None  # nothing is begun without time
                        break
            if in_hand is None or (room == 0 and left[in_hand["key"]]):
                break
            room -= 1 if left[in_hand["key"]] else 0
            work(in_hand, day)
            if in_hand["key"] in over:
                in_hand = None
        if len(over) == len(steps):
            return {k: sorted(v.items()) for k, v in spent.items()}, max(over.values())
    return None
