"""Compares model files with the reference implementation, and writes the tests' reference.

    python check.py WEIGHTS aligned.pt texts.txt english.model english-float32.model multilingual.model --lines LINES.txt
    python check.py WEIGHTS aligned.pt texts.txt --write ../encoder/testdata

The first prints the cosine of each text's vector with the reference's (least, mean) and
how many of LINES and of made-up Unicode are cut into the same pieces; --each prints a line a text.
"""

import argparse
import json
import os
import random
import subprocess
import unicodedata
import zlib

import numpy as np

import weights



def load(kind, folder, aligned):
    """Returns the reference model, its tokenizer and its last map."""
    if kind == "english":
        return *weights.english(folder)[:2], None
    model, tokenizer, _ = weights.multilingual(folder)
    return model, tokenizer, weights.align(model, aligned)


def go(model, texts, *flags):
    """Runs the Go engine over texts."""
    root = os.path.join(os.path.dirname(os.path.abspath(__file__)), "..")
    sent = "".join(json.dumps(t) + "\n" for t in texts)
    done = subprocess.run(["go", "run", "./train/vectors", *flags, os.path.abspath(model)], input=sent.encode(), capture_output=True, cwd=root, check=True)
    return [json.loads(line) for line in done.stdout.splitlines()]


def fuzz(n, seed=1):
    """Makes lines of characters that Unicode 10 had assigned."""
    r = random.Random(seed)
    ranges = [(0x20, 0x7E), (0xA0, 0x24F), (0x300, 0x36F), (0x370, 0x3FF), (0x400, 0x4FF), (0x5D0, 0x5EA), (0x621, 0x64A), (0x905, 0x939),
              (0x1E00, 0x1EFF), (0x2000, 0x206F), (0x2070, 0x209C), (0x20A0, 0x20BF), (0x2100, 0x214F), (0x2190, 0x21FF), (0x2200, 0x22FF),
              (0x2500, 0x257F), (0x3040, 0x30FF), (0x4E00, 0x4F00), (0xFB00, 0xFB06), (0xFF01, 0xFF5E), (0x1F600, 0x1F64F), (0x1, 0x1F), (0xE000, 0xE010)]
    out = []
    for _ in range(n):
        line = ""
        for _ in range(r.randint(1, 60)):
            lo, hi = ranges[0] if r.random() < 0.5 else r.choice(ranges)
            c = chr(r.randint(lo, hi))
            line += c if unicodedata.category(c) != "Cn" else " "
        out.append(line)
    return out


def same_pieces(name, model, tokenizer, lines):
    wrong = []
    for text, got in zip(lines, go(model, lines)):
        if got["tokens"] != weights.cut(tokenizer.encode(text).ids):
            wrong.append(text)
    print(f"{model}: {len(lines) - len(wrong)} of {len(lines)} {name} are cut into the same pieces")
    for text in wrong[:5]:
        print("   not:", json.dumps(text[:100]))


def compare(folder, aligned, model, texts, lines, each):
    kind = "multilingual" if "multilingual" in os.path.basename(model) else "english"
    reference, tokenizer, project = load(kind, folder, aligned)
    want = weights.vectors(reference, tokenizer, texts, project)
    got = np.array([o["vector"] for o in go(model, texts, "-vectors")], np.float32)
    cosines = (want * got).sum(1)
    if each:
        for c, t in zip(cosines, texts):
            print(f"{c:.5f} {t[:100]}")
    print(f"{model}: cosine with the reference over {len(texts)} texts: least {cosines.min():.5f}, mean {cosines.mean():.5f}")
    if lines:
        same_pieces("lines", model, tokenizer, lines)
        same_pieces("made-up lines", model, tokenizer, fuzz(2000))


def write(folder, aligned, texts, out):
    """Writes the reference's vectors as float16 and a sum of each line's tokens."""
    made_up = fuzz(500)
    with open(os.path.join(out, "lines.json"), "w") as f:
        json.dump(made_up, f, indent=0)
    with open(os.path.join(out, "texts.json"), "w") as f:
        json.dump(texts, f, indent=0, ensure_ascii=False)
    for kind in ("english", "multilingual"):
        model, tokenizer, project = load(kind, folder, aligned)
        weights.vectors(model, tokenizer, texts, project).astype("<f2").tofile(os.path.join(out, kind + ".vectors"))
        sums = [zlib.crc32(np.array(weights.cut(tokenizer.encode(t).ids), "<i4").tobytes()) for t in texts + made_up]
        np.array(sums, "<u4").tofile(os.path.join(out, kind + ".tokens"))


if __name__ == "__main__":
    a = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    a.add_argument("weights")
    a.add_argument("aligned")
    a.add_argument("texts")
    a.add_argument("models", nargs="*")
    a.add_argument("--lines")
    a.add_argument("--each", action="store_true")
    a.add_argument("--write")
    a = a.parse_args()
    texts = [t for t in open(a.texts, encoding="utf-8").read().split("\n") if t]
    lines = open(a.lines, encoding="utf-8", errors="replace").read().split("\n") if a.lines else []
    for m in a.models:
        compare(a.weights, a.aligned, m, texts, lines, a.each)
    if a.write:
        write(a.weights, a.aligned, texts, a.write)
