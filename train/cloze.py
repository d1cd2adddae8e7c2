"""Questions for nothing: a few words of a sentence are taken for the answer, and what stands around them for the question.

Recurring spans and gaps teach a reader to match and to point before it sees a real
question (Lewis et al. 2019, Ram et al. 2021). Words are dropped, moved and spelt
wrongly, and the sentence's passage without the sentence is the nearest miss.
"""

import re

WORD = re.compile(r"\S+")
LITTLE = set("a an and are as at be been but by can do does for from had has have he her his if in into is it its may might must no not of on or our shall she should so such than that the their them then there these they this to under until was we were what when where which who will with would you your".split())
UNITS = set("cm mm km m kg g l ml hours hour minutes minute days day weeks week months month years year seconds percent % euros pounds people times pages per °c degrees".split())
ASKS = {
    "number": ["how many", "how much", "what", "how long", "what number", "which figure", ""],
    "name": ["who", "what", "which", "where", ""],
    "words": ["what", "which", "how", "what", "when", "why", ""],
}


def spans(words):
    """Yields (first, last, kind) of runs of words that might be asked for."""
    bare = [w.strip(".,;:()[]\"'“”‘’").lower() for w in words]
    for i, w in enumerate(words):
        if re.search(r"\d", w):
            yield i, i + 1 if i + 1 < len(words) and bare[i + 1] in UNITS else i, "number"
        elif i > 0 and w[:1].isupper():
            j = i
            while j + 1 < len(words) and words[j + 1][:1].isupper() and not words[j].endswith((",", ".")):
                j += 1
            yield i, j, "name"
        elif bare[i] and bare[i] not in LITTLE:
            j = i
            while j + 1 < len(words) and j < i + 3 and bare[j + 1] not in LITTLE and not words[j].endswith((",", ".", ";", ":")):
                j += 1
            yield i, j, "words"


def question(text, r):
    """Makes a question of a sentence: its words and the (start, end) of the answer in it, or None."""
    found = list(WORD.finditer(text))
    words = [m.group() for m in found]
    if not 6 <= len(words) <= 45:
        return None
    by_kind = {}
    for s in spans(words):
        by_kind.setdefault(s[2], []).append(s)
    if not by_kind:
        return None
    kind = r.choice(sorted(by_kind))
    first, last, _ = r.choice(by_kind[kind])
    drop = r.choice([0.2, 0.4, 0.6])
    rest = []
    for i, w in enumerate(words):
        if first <= i <= last:
            continue
        w = w.strip(".,;:()[]\"'“”‘’").lower()
        if w and r.random() > (0.6 if w in LITTLE else drop):
            rest.append(w)
    if sum(w not in LITTLE for w in rest) < 2:
        return None
    near = 12  # words of a question
    if len(rest) > near:
        at = r.randrange(len(rest) - near + 1)
        rest = rest[at : at + near]
    if r.random() < 0.3:
        r.shuffle(rest)
    if r.random() < 0.15:
        rest = misspell(rest, r)
    asked = " ".join(([r.choice(ASKS[kind])] + rest)).strip()
    start, end = found[first].start(), found[last].end()
    while end > start and text[end - 1] in ".,;:)]\"”’":
        end -= 1
    return asked + r.choice(["", "?"]), (start, end)


def misspell(words, r):
    """Swaps, drops or doubles a letter of one longer word."""
    long = [i for i, w in enumerate(words) if len(w) > 4 and w.isalpha()]
    if not long:
        return words
    words = list(words)
    i = r.choice(long)
    w = words[i]
    k = r.randrange(1, len(w) - 1)
    words[i] = r.choice([w[:k] + w[k + 1] + w[k] + w[k + 2 :], w[:k] + w[k + 1 :], w[:k] + w[k] + w[k:]])
    return words
