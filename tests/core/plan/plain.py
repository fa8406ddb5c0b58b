"""The rules of a plan once more, day by day in plain arithmetic, to hold what the program finds against."""

import math
from collections import defaultdict
from datetime import timedelta
from itertools import combinations, product


class Plain:
    """A problem with its history, judged without arrays and without the program.

    A plan is ``start`` by session, ``minutes`` by session, and ``own`` by athlete and session.
    """

    def __init__(self, problem, rows):
        self.problem = problem
        self.days = [problem.as_of + timedelta(days=i + 1) for i in range(problem.days)]
        self.past = defaultdict(float)
        self.missing, self.guessed, self.first = set(), defaultdict(float), {}
        for row in rows:
            if row.day > problem.as_of:
                continue
            self.first[row.athlete] = min(row.day, self.first.get(row.athlete, row.day))
            if row.load is None:
                self.missing.add((row.athlete, row.channel, row.day))
            else:
                self.past[row.athlete, row.channel, row.day] += row.load
                self.guessed[row.athlete, row.channel, row.day] += row.load if row.estimated else 0.0
        for one in problem.athletes:
            self.first.setdefault(one.id, self.days[0])
        coach = {s.id: s.start for s in problem.sessions}
        own = {(a.id, s.id): s.share_of(a.id) * s.minutes for a in problem.athletes for s in problem.sessions
               if self.may(a.id, s, s.start)}  # fmt: skip
        self.coach = self.loads(coach, own)

    # Loads ----------------------------------------------------------------------------------------

    def loads(self, start, own):
        found = defaultdict(float, self.past)
        by_id = {s.id: s for s in self.problem.sessions}
        for (athlete, session), minutes in own.items():
            for channel in self.problem.channels:
                load = minutes * by_id[session].load_of(athlete, channel)
                found[athlete, channel, start[session].date()] += load
        return found

    def may(self, athlete, session, start):
        if not session.for_(athlete):
            return False
        for limit in self.problem.limits:
            if not (limit.hard and limit.is_for(athlete) and limit.judges(start.date())):
                continue
            if limit.rule == "gate" and session.kind not in limit.settings["allow"]:
                return False
            if limit.rule == "effort_cap" and (session.effort or 0) > limit.value:
                return False
            if limit.rule == "content_cap" and (session.open or 0) > limit.value:
                return False
        return True

    def window(self, day, first, last):
        """The days from ``first`` to ``last`` days back."""
        return [day - timedelta(days=back) for back in range(first, last + 1)]

    def known(self, athlete, channel, days):
        return [d for d in days if d >= self.first[athlete] and (athlete, channel, d) not in self.missing]

    def history(self, athlete, day):
        return (day - self.first[athlete]).days + 1

    # Where a rule speaks, and by how much it is over --------------------------------------------------

    def base(self, loads, athlete, channel, day, school):
        if school == "ewma":
            return self.faded(loads, athlete, channel, day, 28)
        days = self.known(athlete, channel, self.window(day, 7 if school == "uncoupled" else 0, 27))
        return sum(loads[athlete, channel, d] for d in days) / len(days) if days else 0.0

    def acute(self, loads, athlete, channel, day, school):
        if school == "ewma":
            return self.faded(loads, athlete, channel, day, 7)
        days = self.known(athlete, channel, self.window(day, 0, 6))
        return sum(loads[athlete, channel, d] for d in days) / len(days) if days else 0.0

    def faded(self, loads, athlete, channel, day, span):
        keep = 1 - 2 / (span + 1)
        days = self.known(athlete, channel, self.window(day, 0, self.history(athlete, day) - 1))
        weights = [keep ** (day - d).days for d in days]
        total = sum(w * loads[athlete, channel, d] for w, d in zip(weights, days, strict=True))
        return total / sum(weights) if days else 0.0

    def speaks(self, limit, athlete, day):
        channel, age = limit.channel, self.history(athlete, day)
        lacks = lambda n: any((athlete, channel, d) in self.missing for d in self.window(day, 0, n - 1))  # noqa: E731
        week = lambda d: sum(self.coach[athlete, channel, e] for e in self.window(d, 0, 6))  # noqa: E731
        if limit.rule in ("day_cap", "balance_floor", "days_in_row", "days_in_seven"):
            return True
        if limit.rule in ("week_cap", "week_floor"):
            return age >= 7 and not lacks(7)
        if limit.rule == "week_change_cap":
            return age >= 14 and not lacks(14) and week(day - timedelta(days=7)) > 0
        if age < 21 or lacks(7):
            return False
        month = self.window(day, 0, 27)
        total = sum(self.coach[athlete, channel, d] for d in month)
        if sum(self.guessed[athlete, channel, d] for d in month) > 0.25 * total > 0:
            return False
        chronic = [self.base(self.coach, athlete, channel, d, "coupled")
                   for d in self.window(day, 0, 364) if self.history(athlete, d) >= 21]  # fmt: skip
        if chronic[0] <= 0 or chronic[0] < 0.25 * max(chronic):
            return False
        return self.base(self.coach, athlete, channel, day, limit.settings.get("school", "ewma")) > 0

    def over(self, limit, loads, athlete, day):
        """By how much a limit on load is over on a day, in shares of its scale."""
        channel, value = limit.channel, limit.value
        at = lambda d: loads[athlete, channel, d]  # noqa: E731
        week = lambda d, of=loads: sum(of[athlete, channel, e] for e in self.window(d, 0, 6))  # noqa: E731
        if limit.rule == "day_cap":
            return (at(day) - value) / value
        if limit.rule == "week_cap":
            return (week(day) - value) / value
        if limit.rule == "week_floor":
            return (value - week(day)) / value
        before = day - timedelta(days=7)
        if limit.rule == "week_change_cap":
            return (week(day) - (1 + value) * week(before)) / ((1 + value) * week(before, self.coach))
        if limit.rule == "balance_floor":
            slow, fast = self.states(loads, athlete, channel, day)
            return (value - (slow - fast)) / max(1.0, self.states(loads, athlete, channel, self.problem.as_of)[0])
        school = limit.settings.get("school", "ewma")
        acute, base = self.acute(loads, athlete, channel, day, school), self.base(loads, athlete, channel, day, school)
        over = (acute - value * base) / (value * self.base(self.coach, athlete, channel, day, school))
        return over if limit.rule == "ratio_ceiling" else -over

    def states(self, loads, athlete, channel, day):
        slow = fast = 0.0
        for d in reversed(self.window(day, 0, max(0, self.history(athlete, day) - 1))):
            if (athlete, channel, d) not in self.missing and d >= self.first[athlete]:
                load = loads[athlete, channel, d]
                slow += (load - slow) * (1 - math.exp(-1 / 42))
                fast += (load - fast) * (1 - math.exp(-1 / 7))
        return slow, fast

    def gated(self, athlete, day):
        gates = [
            limit for limit in self.problem.limits if limit.rule == "gate" and limit.hard and limit.is_for(athlete)
        ]
        return any(gate.judges(d) for gate in gates for d in self.window(day, 0, 6))

    def excess(self, start, own):
        """What gives way: the worst day's excess by limit and athlete, where it is above 1e-6."""
        loads, rest = self.loads(start, own), self.loads({}, {})
        found = defaultdict(float)
        for limit, athlete, day in product(self.problem.limits, self.problem.athletes, self.days):
            name = athlete.id
            if not (limit.hard and limit.is_for(name) and limit.judges(day)) or limit.rule in OTHERS:
                continue
            floor = limit.rule in ("week_floor", "ratio_floor")
            if floor and (self.days.index(day) < 6 or self.gated(name, day)):
                continue
            if limit.rule.startswith("days_in"):
                over = self.too_many_days(limit, loads, rest, name, day)
            elif self.speaks(limit, name, day):
                over = self.over(limit, loads, name, day)
                at_rest = self.over(limit, rest, name, day)
                if not floor and at_rest > 0:
                    over -= at_rest
            else:
                continue
            if over > 1e-6:
                found[limit.id, name] = max(found[limit.id, name], over)
        for limit, athlete in product(self.problem.limits, self.problem.athletes):
            if limit.rule == "spacing" and limit.hard and limit.is_for(athlete.id):
                over = self.too_close(limit, start, own, athlete.id)
                if over > 1e-6:
                    found[limit.id, athlete.id] = over
        return dict(found)

    def too_many_days(self, limit, loads, rest, athlete, day):
        def worked(of, days):
            return sum(of[athlete, limit.channel, d] > 0 or (athlete, limit.channel, d) in self.missing for d in days)

        n, over = int(limit.value), limit.settings.get("over", 1)
        windows = [(n + 1, n)] if limit.rule == "days_in_row" else [(7, n + over), (14, 2 * n)]
        return max(
            (worked(loads, days) - max(most, worked(rest, days))) / most
            for length, most in windows
            for days in [self.window(day, 0, length - 1)]
        )

    def too_close(self, limit, start, own, athlete):
        system, hours = limit.settings["system"], limit.value
        heavy = [s for s in self.problem.sessions if system in s.heavy and own.get((athlete, s.id), 0) > 0]
        gaps = []
        for one, two in combinations(sorted(heavy, key=lambda s: start[s.id]), 2):
            end = start[one.id] + timedelta(minutes=own[athlete, one.id])
            gaps.append((start[two.id], (start[two.id] - end).total_seconds() / 3600))
        gaps += [(start[s.id], (start[s.id] - done.end).total_seconds() / 3600) for s in heavy
                 for done in self.problem.done
                 if system in done.systems and (done.who is None or athlete in done.who)]  # fmt: skip
        return max((1 - gap / hours for at, gap in gaps if limit.judges(at.date())), default=0.0)

    # Whether it is a plan, and what it costs --------------------------------------------------------------

    def is_plan(self, start, minutes, own):
        for s in self.problem.sessions:
            if s.id not in start:
                assert s.may_fall_out or s.shortest == 0, s.id
                continue
            assert start[s.id] in s.starts
            assert s.shortest - 1e-6 <= minutes[s.id] <= s.longest + 1e-6, (s.id, minutes[s.id])
            assert s.step is None or abs(minutes[s.id] / s.step - round(minutes[s.id] / s.step)) < 1e-6
            for a in self.problem.athletes:
                full, mine = s.share_of(a.id) * minutes[s.id], own.get((a.id, s.id), 0.0)
                if not self.may(a.id, s, start[s.id]):
                    assert mine == 0
                elif not s.splits_for(a):
                    assert abs(mine - full) < 1e-6
                elif mine:
                    assert s.split.least - 1e-6 <= mine <= full + 1e-6
                    whole = s.split.step is None or abs(mine / s.split.step - round(mine / s.split.step)) < 1e-6
                    assert whole or abs(mine - full) < 1e-6
        assert not any(self.overlaps(start, own, a.id) for a in self.problem.athletes)
        return True

    def overlaps(self, start, own, athlete):
        mine = [s for s in self.problem.sessions if own.get((athlete, s.id), 0) > 0]
        for one, two in combinations(sorted(mine, key=lambda s: start[s.id]), 2):
            moved = start[one.id] != one.start or start[two.id] != two.start
            if moved and start[one.id] + timedelta(minutes=own[athlete, one.id]) > start[two.id] + timedelta(seconds=1):
                return True
        return False

    def parts(self, start, minutes, own):
        found = dict.fromkeys(("squad", "own", "touched", "own_touched", "target"), 0.0)
        for s in self.problem.sessions:
            moved = s.id in start and start[s.id] != s.start
            off = abs(minutes.get(s.id, 0.0) - s.minutes)
            found["squad"] += s.weight * (off + (s.move_minutes if moved else 0))
            found["touched"] += moved or off > 1e-6
            for a in self.problem.athletes:
                if s.id in start and s.splits_for(a) and self.may(a.id, s, start[s.id]):
                    lacks = s.share_of(a.id) * minutes[s.id] - own.get((a.id, s.id), 0.0)
                    found["own"] += a.weight * s.weight * lacks
                    found["own_touched"] += lacks > 1e-6
        loads = self.loads(start, own)
        for target, a in product(self.problem.targets, self.problem.athletes):
            if target.athletes is None or a.id in target.athletes:
                days = [target.first + timedelta(days=i) for i in range((target.last - target.first).days + 1)]
                found["target"] += target.weight * abs(
                    sum(loads[a.id, target.channel, d] for d in days) - target.load)  # fmt: skip
        return found

    def levels(self, *plan):
        parts = self.parts(*plan)
        return tuple(sum(weight * parts[part] for part, weight in level.items()) for level in self.problem.levels)

    # Every plan there is -----------------------------------------------------------------------------------

    def every_plan(self):
        """All plans of a problem in which every session and every split has steps."""
        options = []
        for s in self.problem.sessions:
            steps = range(math.ceil(s.shortest / s.step), math.floor(s.longest / s.step) + 1)
            stands = [(at, n * s.step) for at in s.starts for n in steps]
            options.append([*([None] if s.may_fall_out else []), *stands])
        for chosen in product(*options):
            start = {s.id: at[0] for s, at in zip(self.problem.sessions, chosen, strict=True) if at}
            minutes = {s.id: at[1] for s, at in zip(self.problem.sessions, chosen, strict=True) if at}
            mine = [list(self.own_options(a, s, start, minutes)) for a in self.problem.athletes
                    for s in self.problem.sessions]  # fmt: skip
            for each in product(*mine):
                own = {pair: value for pair, value in each if value}
                if not any(self.overlaps(start, own, a.id) for a in self.problem.athletes):
                    yield start, minutes, own

    def own_options(self, athlete, session, start, minutes):
        pair = (athlete.id, session.id)
        if session.id not in start or not self.may(athlete.id, session, start[session.id]):
            return [(pair, 0.0)]
        full = session.share_of(athlete.id) * minutes[session.id]
        if not session.splits_for(athlete):
            return [(pair, full)]
        step = session.split.step
        some = [n * step for n in range(math.ceil(session.split.least / step), math.floor(full / step) + 1)]
        return [(pair, value) for value in {0.0, *some, *([full] if full >= session.split.least else [])}]


OTHERS = ("gate", "effort_cap", "content_cap", "spacing", "monotony_cap", "strain_cap")
