"""Gathers sentences in English beside French, German, Spanish, Italian, Dutch or Portuguese.

    python parallel.py FOLDER OUT.jsonl

Help pages, manual pages and message catalogues of Debian's packages say the
same in many languages. They are fetched into FOLDER; what stands at the same place of two
translations of one file is a pair: {"lang": "de", "en": …, "text": …, "from": …}.
"""

import collections
import glob
import gzip
import html
import json
import os
import random
import re
import struct
import subprocess
import sys

LANGUAGES = {"fr": ["fr"], "de": ["de"], "es": ["es"], "it": ["it"], "nl": ["nl"], "pt": ["pt_BR", "pt-BR", "pt-br", "pt"]}
PACKAGES = (
    "gnome-user-docs evince-common gedit-common gnumeric-doc manpages manpages-dev "
    "manpages-fr manpages-de manpages-es manpages-it manpages-nl manpages-pt-br "
    "manpages-fr-dev manpages-de-dev manpages-es-dev manpages-nl-dev manpages-pt-br-dev "
    "libreoffice-help-en-us libreoffice-help-fr libreoffice-help-de libreoffice-help-es libreoffice-help-it libreoffice-help-nl libreoffice-help-pt-br "
    "kmymoney-common kate5-data okular konsole digikam-data ktorrent-data kalzium-data step marble-data "
    "wesnoth-1.16-data freeciv-data gnucash-common dia-common"
).split()


def fetch(folder):
    os.makedirs(folder, exist_ok=True)
    for p in PACKAGES:
        out = os.path.join(folder, p)
        if os.path.isdir(out):
            continue
        got = subprocess.run(["apt-get", "download", "-q", p], cwd=folder, capture_output=True, text=True)
        debs = glob.glob(os.path.join(folder, p + "_*.deb"))
        if not debs:
            print("without", p, got.stderr.strip()[-100:], file=sys.stderr)
            continue
        subprocess.run(["dpkg-deb", "-x", debs[0], out], check=True)
        os.remove(debs[0])


def clean(s):
    s = html.unescape(re.sub(r"<[^>]+>", "", s))
    return re.sub(r"\s+", " ", s).strip()


def blocks_of_markup(data):
    """Returns the texts of paragraphs, titles and items, in order."""
    data = re.sub(r"(?s)<!--.*?-->|<(script|style|info|code|screen)\b.*?</\1>", "", data)
    return [clean(b) for b in re.findall(r"(?s)<(?:p|title|para|h[1-6]|td|simpara)(?:\s[^>]*)?>(.*?)</(?:p|title|para|h[1-6]|td|simpara)>", data)]


def blocks_of_man(data):
    """Returns the paragraphs of a manual page; macros part them."""
    out, now = [], []
    for line in data.split("\n"):
        if line.startswith((".", "'")):
            macro = line.split()[0] if line.split() else "."
            if macro in (".B", ".I", ".BR", ".IR", ".RB", ".RI", ".BI", ".IB"):
                now.append(line[len(macro) :].strip().replace('"', ""))
                continue
            out.append(" ".join(now))
            now = []
            if macro in (".SH", ".SS"):
                out.append(line[len(macro) :].strip().strip('"'))
        else:
            now.append(line)
    out.append(" ".join(now))
    text = [re.sub(r"\s+", " ", re.sub(r"\\f[A-Z(]\w?|\\&|\\[()]?\w\w|\\", lambda m: "-" if m.group(0) == "\\-" else "", b)).strip() for b in out]
    return [b for b in text if b]


def catalogue(path):
    """Reads a .mo file."""
    data = open(path, "rb").read()
    order = "<" if struct.unpack("<I", data[:4])[0] == 0x950412DE else ">"
    _, n, at, to = struct.unpack(order + "4I", data[4:20])
    for i in range(n):
        (l, o), (m, p) = struct.unpack_from(order + "2I", data, at + 8 * i), struct.unpack_from(order + "2I", data, to + 8 * i)
        source, target = data[o : o + l].split(b"\0")[0].split(b"\x04")[-1], data[p : p + m].split(b"\0")[0]
        yield source.decode("utf-8", "replace"), target.decode("utf-8", "replace")


def read(path):
    raw = open(path, "rb").read()
    return (gzip.decompress(raw) if path.endswith(".gz") else raw).decode("utf-8", "replace")


def beside(english, other, split):
    """Pairs the blocks of two files if they have as many."""
    a, b = split(read(english)), split(read(other))
    return zip(a, b) if len(a) == len(b) else []


def pairs(folder):
    files = [p for p in glob.glob(os.path.join(folder, "*", "usr", "**", "*"), recursive=True) if os.path.isfile(p)]
    by_place = collections.defaultdict(dict)  # the path with the language taken out, and the way to split
    for p in files:
        for lang, names in LANGUAGES.items():
            for name in names:
                if p.endswith(".mo") and f"/{name}/LC_MESSAGES/" in p or p.endswith(f"/{name}.gmo"):
                    for s, t in catalogue(p):
                        yield lang, clean(s), clean(t), os.path.basename(p)
        for lang, names in dict(LANGUAGES, en=["C", "en", "en-US"]).items():
            for name in names:
                for form, split in (("/help/%s/", blocks_of_markup), ("/HTML/%s/", blocks_of_markup), ("/text/", None)):
                    if split and form % name in p and p.endswith((".page", ".html", ".docbook", ".xml")):
                        by_place[(p.split(form % name)[-1], split)][lang] = p
        m = re.search(r"/man/(?:(\w\w)(?:_BR)?/)?(man\d/[^/]+\.gz)$", p)
        if m:
            by_place[(m.group(2), blocks_of_man)][m.group(1) or "en"] = p
    for (place, split), found in by_place.items():
        if "en" in found:
            for lang, p in found.items():
                if lang in LANGUAGES:
                    for a, b in beside(found["en"], p, split):
                        yield lang, a, b, place


def worth(a, b):
    """Tells whether a pair says something in two languages."""
    letters = sum(c.isalpha() for c in a)
    return a != b and 3 <= len(a) <= 900 and 2 <= len(b) <= 1100 and letters > 0.6 * len(a.replace(" ", "")) and 0.4 < (len(a) + 8) / (len(b) + 8) < 2.0


def main(folder, out):
    fetch(folder)
    seen, count, kept = set(), collections.Counter(), []
    for lang, a, b, where in pairs(folder):
        key = (lang, b)
        if worth(a, b) and key not in seen:
            seen.add(key)
            count[lang] += 1
            kept.append({"lang": lang, "en": a, "text": b, "from": where})
    random.Random(1).shuffle(kept)
    with open(out, "w", encoding="utf-8") as f:
        for k in kept:
            f.write(json.dumps(k, ensure_ascii=False) + "\n")
    print(dict(count), len(kept))


if __name__ == "__main__":
    main(*sys.argv[1:3])
