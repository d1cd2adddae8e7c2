"""Makes training groups of questions with the passages that our own retrieval brought.

A group is a question with some passages, at most one of which is right, each packed; the
right one's evidence sentences and answer's characters are known where the question set
tells them.
"""

import hashlib
import json
import random
import re

import cloze

YES, NO = 1, 2
VALUE, SENTENCE, LIST = 0, 1, 2
LISTS = {"list", "procedure", "howto", "steps"}


def held_out(name):
    """Tells whether a document is kept for development."""
    return hashlib.sha256(name.encode()).digest()[0] % 6 == 0


def bare(s):
    return re.sub(r"[\W_]+", "", s.lower())


def in_characters(text, ranges):
    """Turns ranges of bytes, as Go has them, into ranges of characters."""
    if text.isascii():
        return ranges
    raw = text.encode()
    return [[len(raw[:a].decode()), len(raw[:b].decode())] for a, b in ranges]


def load(path, most_per_place=4, seed=1):
    """Returns (training, development). Of the lessons on one sentence only some are kept."""
    r = random.Random(seed)
    train, dev, places = [], [], {}
    lines = [json.loads(line) for line in open(path, encoding="utf-8")]
    r.shuffle(lines)
    for e in lines:
        e["accept"] = [a for a in e["accept"] or [] if a]
        e["candidates"] = e["candidates"] or []
        for c in e["candidates"]:
            c["bare"] = bare(c["text"])
            c["sentences"] = in_characters(c["text"], c["sentences"])
        e["right"] = [c for c in e["candidates"] if c["right"]]
        e["wrong"] = wrong(e)
        if e["answerable"] and not e["right"]:
            continue
        if "lesson" in (e["tags"] or []):
            c = e["right"][0]
            key = (c["document"], c["text"][:80], tuple(c["evidence"]))
            places[key] = places.get(key, 0) + 1
            if places[key] > most_per_place:
                continue
        about = {c["document"] for c in e["right"]} or {c["document"] for c in e["candidates"][:1]}
        held = e["group"] != "demo" and any(held_out(d) for d in about)
        (dev if held else train).append(e)
    return train, dev


def wrong(e):
    """The passages that surely do not answer: those that hold an accepted form might."""
    if not e["answerable"]:
        return e["candidates"]
    forms = [f for f in map(bare, e["accept"]) if len(f) > 2]
    return [c for c in e["candidates"] if not c["right"] and not any(f in c["bare"] for f in forms)]


def said(e, c):
    """Character ranges of accepted forms within the evidence sentences of a passage."""
    out = []
    for k in c["evidence"]:
        start, end = c["sentences"][k]
        low = c["text"][start:end].lower()
        for form in {e["answer"].lower(), *map(str.lower, e["accept"])}:
            if form in ("", "yes", "no"):
                continue
            for m in re.finditer(r"(?<!\w)" + re.escape(form) + r"(?!\w)", low):
                out.append((start + m.start(), start + m.end()))
    # Of forms one within another the longest says it best.
    return [a for a in out if not any(b != a and b[0] <= a[0] and a[1] <= b[1] for b in out)]


def polarity(e):
    first = re.match(r"\s*(yes|no)\b", e["answer"].lower())
    return None if not e["answer"] else {"yes": YES, "no": NO}[first[1]] if first else 0


def shape(e, c):
    if not e["answer"]:
        return None
    if LISTS & set(e["tags"] or []) or len(c["evidence"]) > 2:
        return LIST
    return VALUE if len(e["answer"].split()) <= 6 and said(e, c) else SENTENCE


def asked(e, r, noise=True):
    """The question as it is read: joined to what came before, and as people type."""
    words = ((e["after"][-1] + " ") if e.get("after") else "") + e["question"]
    if not noise:
        return words
    some = words.split()
    if r.random() < 0.12:
        some = cloze.misspell(some, r)
    if r.random() < 0.08:
        kept = [w for w in some if w.lower() not in cloze.LITTLE]
        some = kept if len(kept) > 1 else some
    words = " ".join(some)
    return words.rstrip("?").lower() if r.random() < 0.15 else words


def another_number(words, e, c, r):
    """The question with a number that the passage says changed to another, or None."""
    taken = [m for m in re.finditer(r"\d+", words) if m[0] in c["text"] and not any(m[0] in f for f in e["accept"])]
    if not taken:
        return None
    m = r.choice(taken)
    changed = str(max(0, int(m[0]) + r.choice([-2, -1, 1, 2, 3])))
    return words[: m.start()] + changed + words[m.end() :] if changed != m[0] and changed not in c["text"] else None


def group(e, packer, r, size=5):
    """Returns {packed, target, evidence, spans, polarity, shape}; target is 0 for none."""
    words = asked(e, r)
    near = e["wrong"][:7]
    chosen = r.sample(near, min(len(near), size - 2))
    rest = [c for c in e["wrong"] if c not in chosen]
    chosen += r.sample(rest, min(len(rest), 1))
    out = dict(target=0, evidence=[], spans=[], polarity=None, shape=None)
    if not e["answerable"]:
        packed = [packer.pack(words, c) for c in e["right"][:1] + [c for c in chosen if c not in e["right"]]]
        return out | dict(packed=packed)
    c = r.choice(e["right"])
    packed = [packer.pack(words, n) for n in chosen]
    changed = another_number(words, e, c, r) if r.random() < 0.25 else None
    dice = r.random()
    if changed:
        packed = [packer.pack(changed, n) for n in [c] + chosen]
    elif dice < 0.2 and packed:
        if c["evidence"] and len(c["evidence"]) < len(c["sentences"]) and r.random() < 0.6:
            packed.append(packer.pack(words, c, skip=set(c["evidence"])))
    else:
        if dice < 0.4 and c["evidence"] and len(c["evidence"]) < len(c["sentences"]):
            packed.append(packer.pack(words, c, skip=set(c["evidence"])))
        right = packer.pack(words, c)
        packed.append(right)
        out.update(target=len(packed), evidence=seen(right, c["evidence"]), spans=tokens(right, said(e, c)), polarity=polarity(e), shape=shape(e, c))
    return out | dict(packed=packed)


def cloze_group(passages, i, packer, r, size=4):
    """The same of a made question on the passage i; None if it gives none."""
    c = passages[i]
    order = list(range(len(c["sentences"])))
    r.shuffle(order)
    for k in order[:4]:
        start, end = c["sentences"][k]
        made = cloze.question(c["text"][start:end], r)
        if made:
            break
    else:
        return None
    words, (a, b) = made
    near = [j for j in range(max(0, i - 6), min(len(passages), i + 7)) if j != i and passages[j]["document"] == c["document"]]
    packed = [packer.pack(words, passages[j]) for j in r.sample(near, min(len(near), size - 2))]
    gone = len(c["sentences"]) > 1 and r.random() < 0.5
    out = dict(target=0, evidence=[], spans=[], polarity=None, shape=None)
    if gone:
        packed.append(packer.pack(words, c, skip={k}))
    if r.random() < 0.85 or not packed:
        right = packer.pack(words, c)
        packed.append(right)
        out.update(target=len(packed), evidence=seen(right, [k]), spans=tokens(right, [(start + a, start + b)]))
    return out | dict(packed=packed)


def seen(packed, sentences):
    return [k for k in sentences if k in packed[1]]


def tokens(packed, ranges):
    """First and last tokens of character ranges."""
    out = []
    for a, b in ranges:
        inside = [t for t, (x, y) in enumerate(packed[2]) if x >= 0 and x < b and y > a]
        if inside:
            out.append((inside[0], inside[-1]))
    return out
