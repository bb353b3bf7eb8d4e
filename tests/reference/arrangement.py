#!/usr/bin/env python3
"""Random arrangements as `ustick perform` plays them beside a calculation of their own, written from the
file format's words alone: when each stroke falls, on what, how loud, and who is left out.

    arrangement.py USTICK FOLDER COUNT      0: all agree; 1: prints the first that does not
"""
import json
import math
import random
import subprocess
import sys
from fractions import Fraction as F

PIECES = ["kick", "snare", "hat", "hat-foot", "ride", "crash", "tom-high", "tom-floor", "cowbell"]
USUAL = {"kick": "right-foot", "hat-foot": "left-foot", "snare": "left-hand", "tom-high": "left-hand"}  # else the right hand
TIME = {"hat", "ride", "cowbell"}  # what a ride hand keeps


def text(f):
    return str(f.numerator) if f.denominator == 1 else f"{f.numerator}/{f.denominator}"


def rounded(x):
    return math.floor(x + 0.5)


def groove(rng, name):
    num = rng.choice([3, 4, 4, 5])
    bars = rng.randint(1, 2)
    hits = {}
    for _ in range(rng.randint(3, 22)):
        at = F(rng.randrange(4 * num * bars), 4)
        piece = rng.choice(PIECES)
        hit = {"at": text(at), "piece": piece, "velocity": rng.randint(1, 127)}
        if piece in ("snare", "tom-high", "tom-floor", "crash") and rng.random() < 0.2:
            hit["limb"] = rng.choice(["right-hand", "left-hand"])
        hits[at, piece] = hit
    return {"id": name, "meter": f"{num}/4", "bars": bars, "feel": "f", "hits": list(hits.values())}


def song(rng):
    grooves = [groove(rng, f"g{i}") for i in range(4)]
    length = {g["id"]: F(g["bars"] * int(g["meter"][0])) for g in grooves}
    sections = []
    for i in range(rng.randint(1, 4)):
        s = {"name": f"s{i}", "groove": rng.choice(grooves)["id"], "repeat": rng.randint(1, 5)}
        if rng.random() < 0.4:
            s["grooves"] = [rng.choice(grooves)["id"] for _ in range(rng.randint(1, 4))]
        turn = sum(length[g] for g in s.get("grooves", [s["groove"]]))
        if rng.random() < 0.5:
            fill = rng.choice(grooves)["id"]
            s["fill"] = {"groove": fill,
                         "beats": text(F(rng.randint(1, int(4 * min(turn, length[fill]))), 4))}
            if rng.random() < 0.5:
                s["fill"]["every"] = rng.randint(1, 3)
            if rng.random() < 0.4:
                long = [g["id"] for g in grooves if length[g["id"]] >= F(s["fill"]["beats"])]
                s["fill"]["grooves"] = [rng.choice(long) for _ in range(rng.randint(1, 3))]
            if rng.random() < 0.5:
                s["fill"]["after"] = rng.choice(["crash", "open-hats", "nothing"])
        if rng.random() < 0.5:
            s["level_db"] = round(rng.uniform(-12, 6), 2)
        if rng.random() < 0.4:
            s["to_level_db"] = round(rng.uniform(-12, 6), 2)
        if rng.random() < 0.4:
            s["mute"] = rng.sample(PIECES + ["left-foot", "right-foot", "left-hand"], rng.randint(1, 2))
        if rng.random() < 0.4:
            a, b = rng.sample(PIECES, 2)
            s["swap"] = {a: b, b: a} if rng.random() < 0.3 else {a: b}
        if rng.random() < 0.4:
            s["crash"] = {"piece": "crash", "velocity": rng.randint(1, 127)}
        sections.append(s)
    tempo, at = [], F(0)
    for _ in range(rng.randint(1, 4)):
        tempo.append({"at": text(at), "bpm": rng.randint(40, 220)})
        if rng.random() < 0.5:
            tempo[-1]["ramp"] = "linear"
        at += F(rng.randint(1, 60), rng.choice([1, 3, 4]))
    tempo[-1].pop("ramp", None)
    feel = {"id": "f", "displacement": {"snare": 11, "ride": -3},
            "slots": [{"at": "1", "velocity": 30}, {"at": "2", "velocity": -40, "piece": "kick"}]}
    return {"format": "uneven-stick-song", "version": 1, "tempo": tempo, "feels": [feel],
            "grooves": grooves, "arrangement": sections}


def steps_of(tempo):
    out = []
    for i, mark in enumerate(tempo):
        at = F(mark["at"])
        if mark.get("ramp") != "linear":
            out.append((at, rounded(60e6 / mark["bpm"])))
            continue
        end = F(tempo[i + 1]["at"])
        here = at
        while here < end:
            there = min(end, here + F(1, 4))
            along = float((here + there) / 2 - at) / float(end - at)
            bpm = mark["bpm"] + (tempo[i + 1]["bpm"] - mark["bpm"]) * along
            out.append((here, rounded(60e6 / bpm)))
            here = there
    return out


def ms_at(steps, beat):
    total = F(0)
    for i, (at, us) in enumerate(steps):
        if at >= beat:
            break
        end = steps[i + 1][0] if i + 1 < len(steps) else beat
        total += (min(end, beat) - at) * us
    return float(total) / 1000


def hits_of(g, section, first, fill, after):
    hits = {(F(h["at"]), h["piece"]): h for h in g["hits"]}
    muted = set(section.get("mute", []))
    limb = lambda h: h.get("limb", USUAL.get(h["piece"], "right-hand"))
    hits = {k: h for k, h in hits.items() if h["piece"] not in muted and limb(h) not in muted}
    swapped = {}
    for (at, piece), h in sorted(hits.items(), key=lambda kv: (kv[0][0], PIECES.index(kv[0][1]))):
        key = at, section.get("swap", {}).get(piece, piece)
        if key not in swapped or swapped[key][0] < h["velocity"]:
            swapped[key] = h["velocity"], h
    out = {k: v for k, (v, _) in swapped.items()}
    if after == "open-hats":
        loud = out.get((F(0), "hat"), 100)
        out = {k: v for k, v in out.items() if not (k[0] == 0 and k[1] in TIME)}
        out[F(0), "hat"] = loud
    if after == "crash":
        out = {k: v for k, v in out.items() if not (k[0] == 0 and (k[1] in TIME or k[1] == "crash"))}
        out[F(0), "crash"] = 112
        out.setdefault((F(0), "kick"), 108)
    if first and "crash" in section:
        crash = section["crash"]
        out = {k: v for k, v in out.items() if not (k[0] == 0 and (k[1] in TIME or k[1] == crash["piece"]))}
        out[F(0), crash["piece"]] = crash["velocity"]
    if fill:
        frm, to, other, start = fill
        out = {k: v for k, v in out.items() if not frm <= k[0] < to}
        for h in other["hits"]:
            at = F(h["at"])
            if start <= at < start + to - frm:
                out[at - start + frm, h["piece"]] = h["velocity"]
    return out


def expected(s):
    by_id = {g["id"]: g for g in s["grooves"]}
    length = {i: F(g["bars"] * int(g["meter"][0])) for i, g in by_id.items()}
    steps = steps_of(s["tempo"])
    out, start, after = [], F(0), "nothing"
    for section in s["arrangement"]:
        turn = section.get("grooves", [section["groove"]])
        turn_length = sum(length[g] for g in turn)
        whole = turn_length * section["repeat"]
        first, fills = start, 0
        for p in range(section["repeat"]):
            fill = section.get("fill")
            every = fill and fill.get("every")
            filled = fill and ((p + 1) % every == 0 if every else p + 1 == section["repeat"])
            takes = fill and fill.get("grooves", [fill["groove"]])
            take = takes[fills % len(takes)] if fill else None
            fills += 1 if filled else 0
            inside = F(0)
            for n, name in enumerate(turn):
                g = by_id[name]
                span = None
                begins = turn_length - F(fill["beats"]) if fill else None
                if filled and inside + length[name] > begins:
                    frm = max(begins, inside)
                    other = by_id[take]
                    span = (frm - inside, length[name], other,
                            length[other["id"]] - F(fill["beats"]) + frm - begins)
                bar = int(g["meter"][0])
                for (at, piece), v in hits_of(g, section, p == 0 and n == 0, span, after).items():
                    v += 30 if at % bar == 1 else -40 if at % bar == 2 and piece == "kick" else 0
                    v = min(127, max(1, v))
                    low = section.get("level_db", 0)
                    db = low + (section.get("to_level_db", low) - low) * float((start + at - first) / whole)
                    v = min(127, max(1, rounded(v * 10 ** (db / 40))))
                    ms = ms_at(steps, start + at) + {"snare": 11, "ride": -3}.get(piece, 0)
                    out.append((ms, piece, v))
                start += length[name]
                inside += length[name]
                after = "nothing"
            if filled:
                after = fill.get("after", "nothing")
    return sorted(out)


def main():
    ustick, folder, count = sys.argv[1], sys.argv[2], int(sys.argv[3])
    strokes = 0
    for seed in range(count):
        s = song(random.Random(seed))
        file = f"{folder}/arranged.ustick"
        with open(file, "w") as f:
            json.dump(s, f)
        run = subprocess.run([ustick, "perform", file, "--format", "json"], capture_output=True, text=True)
        if run.returncode != 0:
            sys.exit(f"{seed}: {run.stderr}")
        rows = json.loads(run.stdout)
        # Strokes that pass one another on a piece are held: another rule's business.
        played = sorted((r["time_ms"], r["piece"], r["velocity"]) for r in rows)
        wanted = expected(s)
        if len(played) != len(wanted):
            sys.exit(f"{seed}: {len(played)} strokes in place of {len(wanted)}")
        for a, b in zip(sorted(played, key=lambda r: (r[1], r[0], r[2])),
                        sorted(wanted, key=lambda r: (r[1], r[0], r[2]))):
            if a[1] != b[1] or abs(a[0] - b[0]) > 1e-3 or a[2] != b[2]:
                sys.exit(f"{seed}: {a} in place of {b}\n{json.dumps(s)}")
        strokes += len(wanted)
    print(strokes)


main()
