"""A plain reference for the survey: the rules of play written again, slowly, over whole states.

It shares no code with the product but the values of the model and the trees of conditions. States are
dictionaries frozen into tuples; every verdict is found by brute force over the whole state graph.
"""

from collections import deque

from mossy_bridge.language import tree as t
from mossy_bridge.language.parsing import parse_condition, parse_effect


class Plain:
    """All verdicts about one flow (without patterns), by exhaustion."""

    def __init__(self, flow, most=4000):
        self.flow = flow
        self.by_id = {level.id: level for level in flow.levels}
        self.fact = {fact.id: fact for fact in flow.facts}
        self._redone = self.redone()
        self.too_large = False
        self.states = []
        self.number = {}
        self.edges = []
        self.parent = []
        self._search(most)

    # -- conditions and effects ------------------------------------------------------------------------

    def known(self, tree):
        match tree:
            case t.Has(fact):
                return fact in self.fact and self.fact[fact].kind == "flag"
            case t.Count(_, _, fact):
                return fact in self.fact and self.fact[fact].kind == "count"
            case t.Is(fact, value):
                return fact in self.fact and self.fact[fact].kind == "choice" and value in self.fact[fact].values
            case t.Visited(_, level):
                return level in self.by_id
            case t.Not(part):
                return self.known(part)
            case t.All(parts) | t.AnyOf(parts) | t.SomeOf(_, _, parts):
                return all(self.known(part) for part in parts)
        return True

    def holds(self, text, s):
        tree = parse_condition(text)
        return self.known(tree) and self._true(tree, s)

    def _true(self, tree, s):
        match tree:
            case t.Constant(value):
                return value
            case t.Has(fact, wanted):
                return s["facts"][fact] == wanted
            case t.Count(bound, number, fact):
                return self._bound(bound, s["facts"][fact], number)
            case t.Is(fact, value, wanted):
                return (s["facts"][fact] == value) == wanted
            case t.Visited(what, level):
                return level in s[what]
            case t.SomeOf(bound, number, parts):
                return self._bound(bound, len([1 for part in parts if self._true(part, s)]), number)
            case t.Not(part):
                return not self._true(part, s)
            case t.All(parts):
                return all(self._true(part, s) for part in parts)
            case t.AnyOf(parts):
                return any(self._true(part, s) for part in parts)
        raise AssertionError(tree)

    @staticmethod
    def _bound(bound, have, number):
        return {"at least": have >= number, "at most": have <= number, "exactly": have == number}[bound]

    def meant(self, e):
        """Whether an effect names nothing unknown."""
        fact = self.fact.get(e.fact)
        if fact is None:
            return False
        kinds = {"gain": "flag", "lose": "flag", "turn": "choice", "clear": fact.kind}
        return fact.kind == kinds.get(e.verb, "count") and (e.verb != "turn" or e.value in fact.values)

    def affect(self, s, texts):
        for text in texts:
            e = parse_effect(text)
            if not self.meant(e):
                continue
            fact = self.fact[e.fact]
            value = s["facts"][e.fact]
            if e.verb in ("gain", "lose"):
                new = e.verb == "gain"
            elif e.verb == "turn":
                new = e.value
            elif e.verb == "clear":
                new = fact.first
            else:
                new = {
                    "add": lambda v=value, e=e: v + e.number,
                    "take": lambda v=value, e=e: v - e.number,
                    "set": lambda e=e: e.number,
                    "raise": lambda v=value, e=e: max(v, e.number),
                    "lower": lambda v=value, e=e: min(v, e.number),
                }[e.verb]()
                new = max(fact.low, min(fact.high, new))
            s["facts"][e.fact] = new

    # -- states ----------------------------------------------------------------------------------------

    def freeze(self, s):
        return (
            s["place"], s["zone"], tuple(s["facts"].items()), frozenset(s["seen"]), frozenset(s["done"]),
            frozenset(s["spent"]), s["respawn"], s["origin"], s["arrived"], s["rewind"],
        )  # fmt: skip

    def thaw(self, key):
        place, zone, facts, seen, done, spent, respawn, origin, arrived, rewind = key
        return {
            "place": place, "zone": zone, "facts": dict(facts), "seen": set(seen), "done": set(done),
            "spent": set(spent), "respawn": respawn, "origin": origin, "arrived": arrived,
            "rewind": rewind,
        }  # fmt: skip

    def redone(self):
        """The deeds that a restart takes back."""
        found = set()
        for level in self.flow.levels:
            for deed in level.deeds:
                effects = [parse_effect(text) for text in deed.effects]
                if deed.repeats == "run" and any(self.meant(e) and self.fact[e.fact].rewinds for e in effects):
                    found.add((level.id, deed.id))
        return found

    def take_point(self, s):
        """What a restart would go back to from now on."""
        facts = tuple((f.id, s["facts"][f.id]) for f in self.flow.facts if f.rewinds)
        s["rewind"] = (facts, frozenset(s["spent"]) & frozenset(self._redone))

    def arrive(self, s, level_id, spawn_id, point=None):
        if point:
            s["facts"].update(dict(point[0]))
            s["spent"] = (s["spent"] - self._redone) | point[1]
        level = self.by_id[level_id]
        spawn = next((p for p in level.spawns if p.id == spawn_id), None)
        zones = [z.id for z in level.zones]
        s["place"] = level_id
        s["zone"] = spawn.zone if spawn and spawn.zone in zones else (zones[0] if zones else "")
        for fact in self.flow.facts:
            if fact.lifetime == "visit":
                s["facts"][fact.id] = fact.first
        visit = {(lv.id, d.id) for lv in self.flow.levels for d in lv.deeds if d.repeats == "visit"}
        s["spent"] -= visit
        s["seen"].add(level_id)
        s["respawn"] = spawn_id  # in a restart that is the respawn point there was
        s["arrived"] = True
        kept = [text for text in level.on_arrival if not (point and self._rewinds(text))]
        self.affect(s, kept)
        self.take_point(s)
        if point:
            s["rewind"] = point

    def _rewinds(self, text):
        name = parse_effect(text).fact
        return name in self.fact and self.fact[name].rewinds

    def spawn_named(self, level, name):
        """The spawn point's id, "" for none needed, or None where it is lacking."""
        ids = [p.id for p in level.spawns]
        if name:
            return name if name in ids else None
        return ids[0] if ids else (None if level.kind == "play" else "")

    def resolve(self, to, s):
        """("level", id, spawn, "", "again" or "back"), ("end", id), "broken", "closed" or "resume"."""
        if to is None:
            return "broken"
        place = self.by_id[s["place"]]
        if to.kind == "level":
            level = self.by_id.get(to.level)
            spawn = self.spawn_named(level, to.spawn) if level and level.ships else None
            return "broken" if spawn is None else ("level", to.level, spawn, "")
        if to.kind == "end":
            return ("end", to.ending) if any(e.id == to.ending for e in self.flow.endings) else "broken"
        if to.kind in ("next", "previous"):
            order = [lv.id for lv in self.flow.levels]
            base = place.id if place.kind == "play" else (s["origin"][0] if s["origin"] else None)
            if base:
                here = order.index(base)
                way = order[here + 1 :] if to.kind == "next" else reversed(order[:here])
                for name in way:
                    if self.by_id[name].kind == "play" and self.by_id[name].ships:
                        spawn = self.spawn_named(self.by_id[name], "")
                        return "broken" if spawn is None else ("level", name, spawn, "")
        elif to.kind == "again":
            return ("level", place.id, s["respawn"], "again") if place.kind == "play" else "broken"
        elif to.kind == "back":
            if s["origin"]:
                return ("level", s["origin"][0], s["origin"][1], "back")
        elif to.kind == "resume":
            return "resume"
        return self.resolve(to.otherwise, s) if to.otherwise else "closed"

    def is_open(self, exit_, s, leads=None):
        trigger = exit_.trigger
        if trigger.kind in ("touch", "press") and "player" not in trigger.by:
            return False
        if not (self.holds(trigger.when, s) and self.holds(exit_.opens, s)):
            return False
        leads = leads or self.resolve(exit_.to, s)
        if isinstance(leads, str):
            return False
        return leads[0] == "end" or leads[3] or self.holds(self.by_id[leads[1]].opens, s)

    def near(self, zone, s):
        zones = [z.id for z in self.by_id[s["place"]].zones]
        return not zones or zone == "" or (zone in zones and zone == s["zone"])

    def covers(self, area, spawn):
        w = self.flow.walker
        top = spawn.y - w.height if self.flow.units.y == "down" else spawn.y
        left = spawn.x - w.width / 2
        x = min(left + w.width, area[0] + area[2]) - max(left, area[0])
        y = min(top + w.height, area[1] + area[3]) - max(top, area[1])
        return x > 1e-9 and y > 1e-9

    def forced(self, s):
        level = self.by_id[s["place"]]
        for exit_ in level.exits:
            if exit_.trigger.kind == "auto" and self.is_open(exit_, s):
                return exit_
            if exit_.trigger.kind == "touch" and exit_.trigger.armed_on_arrival and s["arrived"]:
                spawn = next((p for p in level.spawns if p.id == s["respawn"]), None)
                if spawn and self.covers(exit_.area, spawn) and self.near(exit_.zone, s) and self.is_open(exit_, s):
                    return exit_
        return None

    def fire(self, exit_, s):
        leads = self.resolve(exit_.to, s)
        place = self.by_id[s["place"]]
        point = None
        if leads[0] == "level" and leads[3] and not exit_.fresh:
            point = s["rewind"] if leads[3] == "again" else s["origin"][2]
        self.affect(s, exit_.effects)
        if exit_.completes:
            s["done"].add(place.id)
        if place.kind == "play":
            s["origin"] = (place.id, s["respawn"], s["rewind"])
        if exit_.fresh:
            for fact in self.flow.facts:
                if fact.lifetime in ("run", "visit"):
                    s["facts"][fact.id] = fact.first
            s["spent"], s["origin"] = set(), None
            if self.flow.progress == "run":
                s["seen"], s["done"] = set(), set()
        if leads[0] == "end":
            return ("ENDED", leads[1])
        self.arrive(s, leads[1], leads[2], point)
        return self.freeze(s)

    def moves(self, key):
        """(text, next state or ("ENDED", id), fresh, arrival, path taken)"""
        s = self.thaw(key)
        level = self.by_id[s["place"]]
        exit_ = self.forced(s)
        if exit_:
            after = self.fire(exit_, s)
            return [(f"exit {level.id}.{exit_.id}", after, exit_.fresh, after[0] != "ENDED", None)], True
        found = []
        zones = {z.id for z in level.zones}
        for path in level.paths:
            if {path.start, path.end} <= zones and self.holds(path.when, s):
                ends = [(path.start, path.end)] + ([(path.end, path.start)] if path.both_ways else [])
                for a, b in ends:
                    if a == s["zone"]:
                        n = self.thaw(key)
                        n["zone"], n["arrived"] = b, False
                        name = f"{level.id}.{path.start}.{path.end}"
                        found.append((f"path {level.id}.{a}.{b}", self.freeze(n), False, False, name))
        for deed in level.deeds:
            spent = (level.id, deed.id) in s["spent"]
            if not spent and self.near(deed.zone, s) and self.holds(deed.when, s):
                n = self.thaw(key)
                self.affect(n, deed.effects)
                if deed.repeats != "always":
                    n["spent"].add((level.id, deed.id))
                if deed.checkpoint in [p.id for p in level.spawns]:
                    n["respawn"] = deed.checkpoint
                    self.take_point(n)
                n["arrived"] = False
                found.append((f"deed {level.id}.{deed.id}", self.freeze(n), False, False, None))
        for exit_ in level.exits:
            if exit_.trigger.kind == "auto":
                continue
            near = exit_.trigger.kind not in ("touch", "press") or self.near(exit_.zone, s)
            if near and self.is_open(exit_, s):
                after = self.fire(exit_, self.thaw(key))
                name = f"exit {level.id}.{exit_.id}"
                found.append((name, after, exit_.fresh, after[0] != "ENDED", None))
        if level.kind == "board":
            for tile in self._reachable_tiles(level, s):
                n = self.thaw(key)
                self.arrive(n, tile.level, self.spawn_named(self.by_id[tile.level], tile.spawn))
                found.append((f"tile {level.id}.{tile.id}", self.freeze(n), False, True, None))
        return found, False

    def _reachable_tiles(self, board, s):
        def is_open(tile):
            level = self.by_id.get(tile.level)
            fits = level and level.ships and self.spawn_named(level, tile.spawn) is not None
            return bool(fits) and self.holds(level.opens, s)

        tiles = {tile.id: tile for tile in board.tiles}
        if not tiles:
            return []
        if board.cursor == "free":
            return [tile for tile in board.tiles if is_open(tile)]
        inside = {board.first_tile if board.first_tile in tiles else board.tiles[0].id}
        while True:
            more = {
                name
                for here in inside
                for name in (tiles[here].left, tiles[here].right, tiles[here].up, tiles[here].down)
                if name in tiles and name not in inside and (board.cursor == "any" or is_open(tiles[name]))
            }
            if not more:
                return [tile for tile in board.tiles if tile.id in inside and is_open(tile)]
            inside |= more

    # -- the whole graph -------------------------------------------------------------------------------

    def _search(self, most):
        start = self.by_id.get(self.flow.start.level)
        spawn = self.spawn_named(start, self.flow.start.spawn) if start and start.ships else None
        if spawn is None:
            return
        s = {
            "place": "", "zone": "", "facts": {f.id: f.first for f in self.flow.facts}, "seen": set(),
            "done": set(), "spent": set(), "respawn": "", "origin": None, "arrived": True,
            "rewind": ((), frozenset()),
        }  # fmt: skip
        self.arrive(s, start.id, spawn)
        self._number(self.freeze(s), None)
        here = 0
        while here < len(self.states):
            if here > most:
                self.too_large = True
                return
            moves, forced = self.moves(self.states[here])
            row = []
            for text, after, fresh, arrival, path in moves:
                target = after if after[0] == "ENDED" else self._number(after, (here, text))
                row.append((text, target, fresh, arrival, path))
            self.edges.append((row, forced))
            here += 1

    def _number(self, key, parent):
        if key not in self.number:
            self.number[key] = len(self.states)
            self.states.append(key)
            self.parent.append(parent)
        return self.number[key]

    def depth(self, number):
        steps = 0
        while self.parent[number]:
            number, steps = self.parent[number][0], steps + 1
        return steps

    def followed(self, route):
        """The number of the state that a route leads to; None where it cannot be followed."""
        here = 0
        for move in route:
            here = next((target for text, target, *_ in self.edges[here][0] if text == str(move)), None)
            if here is None:
                return None
        return here

    def _closure(self, goals, allowed):
        """The states from which allowed edges lead to a goal."""
        inside = set(goals)
        changed = True
        while changed:
            changed = False
            for n, (row, _) in enumerate(self.edges):
                if n not in inside and any(not isinstance(e[1], tuple) and e[1] in inside and allowed(e) for e in row):
                    inside.add(n)
                    changed = True
        return inside

    def judged(self):
        return [n for n, key in enumerate(self.states) if self.by_id[key[0]].kind == "play"]

    # -- verdicts --------------------------------------------------------------------------------------

    def lengths(self):
        """Length of the shortest route to every level, move, path (as written) and ending that is reached."""
        best = {}

        def note(name, length):
            best[name] = min(best.get(name, length), length)

        for n, (row, _) in enumerate(self.edges):
            d = self.depth(n)
            note(f"level {self.states[n][0]}", d)
            for text, target, _, _, path in row:
                note(f"path {path}" if path else text, d + 1)
                if isinstance(target, tuple):
                    note(f"ending {target[1]}", d + 1)
        return best

    def crossings(self):
        cost = {0: 0} if self.states else {}
        waiting = deque(cost)
        while waiting:
            n = waiting.popleft()
            for _, target, _, arrival, _ in self.edges[n][0]:
                if not isinstance(target, tuple) and cost[n] + arrival < cost.get(target, 10**9):
                    cost[target] = cost[n] + arrival
                    waiting.append(target)
        best = {}
        for n, value in cost.items():
            place = self.states[n][0]
            best[place] = min(best.get(place, value), value)
        return best

    def stuck_states(self):
        enders = {n for n, (row, _) in enumerate(self.edges) if any(isinstance(e[1], tuple) for e in row)}
        fine = self._closure(enders, lambda e: not e[2])
        return {n for n in self.judged() if n not in fine} if enders else set()

    def dead_screens(self):
        dead = set()
        for n, key in enumerate(self.states):
            level, s = self.by_id[key[0]], self.thaw(key)
            if level.kind == "play" or self.edges[n][0]:
                continue
            resume = any(
                self.resolve(e.to, s) == "resume"
                and e.trigger.kind != "auto"
                and self.holds(e.trigger.when, s)
                and self.holds(e.opens, s)
                and (e.trigger.kind not in ("touch", "press") or ("player" in e.trigger.by and self.near(e.zone, s)))
                for e in level.exits
            )
            if not resume:
                dead.add(n)
        return dead

    def circle_states(self):
        found = set()
        for n in range(len(self.edges)):
            here, passed = n, set()
            while self.edges[here][1] and here not in passed:
                passed.add(here)
                target = self.edges[here][0][0][1]
                if isinstance(target, tuple):
                    here = None
                    break
                here = target
            if here == n and passed:
                found.add(n)
        return found

    def missed(self):
        """What can be missed, each with the states in which it is."""
        reached = {key[0] for key in self.states}
        stuck = self.stuck_states()
        sound = [n for n in self.judged() if n not in stuck]
        found = {}
        for level in self.flow.levels:
            if level.id in reached:
                goals = [n for n, key in enumerate(self.states) if key[0] == level.id]
                can = self._closure(goals, lambda e: not e[2])
                lost = {n for n in sound if level.id not in self.states[n][3] and n not in can}
                found |= {level.id: lost} if lost else {}
            for deed in level.deeds:
                name = f"deed {level.id}.{deed.id}"
                goals = [n for n, (row, _) in enumerate(self.edges) if any(e[0] == name for e in row)]
                if deed.repeats == "run" and goals:
                    can = self._closure(goals, lambda e: not e[2])
                    lost = {n for n in sound if (level.id, deed.id) not in self.states[n][5] and n not in can}
                    found |= {name.removeprefix("deed "): lost} if lost else {}
        return found

    def promise(self, p):
        """(holds, length of the route that shows it, or None)"""
        if not self.states:
            return p.kind in ("never", "always_can"), None

        if p.kind == "always_can":
            bad = self._without_way_on(p)
            return (True, None) if not bad else (False, min(map(self.depth, bad)))
        avoiding = set(p.avoiding) if p.kind in ("can", "within") else set()
        most = p.crossings if p.kind == "within" else 10**9
        length = self._shortest(
            lambda n: self._kept_in(p, n),
            lambda n: any(self._kept_by(p, n, e) for e in self.edges[n][0]),
            avoiding,
            most,
        )
        if p.kind == "never":
            return length is None, length
        return length is not None, length

    def shows(self, p, route):
        """Whether a route shows that a promise is kept, or broken."""
        here, passed, crossed, last = 0, [], 0, False
        for move in route:
            passed.append(self.states[here][0])
            edge = next((e for e in self.edges[here][0] if e[0] == str(move)), None)
            if edge is None or last:
                return False
            last, crossed = self._kept_by(p, here, edge), crossed + edge[3]
            here = here if isinstance(edge[1], tuple) else edge[1]
        if p.kind == "always_can":
            return here in self._without_way_on(p)
        passed.append(self.states[here][0])
        allowed = p.kind == "never" or not set(passed) & set(p.avoiding)
        few = p.kind != "within" or crossed <= p.crossings
        return allowed and few and bool(last or self._kept_in(p, here))

    def _kept_in(self, p, n):
        return p.level and self.states[n][0] == p.level and self.holds(p.when, self.thaw(self.states[n]))

    def _kept_by(self, p, n, edge):
        into = isinstance(edge[1], tuple) and p.ending and edge[1][1] == p.ending
        return into and self.holds(p.when, self.thaw(self.states[n]))

    def _without_way_on(self, p):
        """The judged states from which there is no way to what a promise asks for."""
        count = len(self.states)
        goals = [
            n for n in range(count) if self._kept_in(p, n) or any(self._kept_by(p, n, e) for e in self.edges[n][0])
        ]
        fine = self._closure(goals, lambda e: not e[2])
        return [n for n in self.judged() if n not in fine]

    def _shortest(self, goal_state, goal_edge, avoiding, most):
        if self.states[0][0] in avoiding:
            return None
        cap = min(most, len(self.states))
        layer, passed, length = {(0, 0)}, set(), 0
        while layer:
            if any(goal_state(n) for n, _ in layer):
                return length
            if any(goal_edge(n) for n, _ in layer):
                return length + 1
            passed |= layer
            after = set()
            for n, c in layer:
                for _, target, _, arrival, _ in self.edges[n][0]:
                    if isinstance(target, tuple) or self.states[target][0] in avoiding:
                        continue
                    crossed = c + arrival if most < 10**9 else 0
                    if crossed <= cap:
                        after.add((target, crossed))
            layer, length = after - passed, length + 1
        return None
