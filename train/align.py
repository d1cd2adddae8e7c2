"""Teaches the multilingual encoder to point where the English one does.

    python align.py WEIGHTS PAIRS.jsonl OUT.pt --minutes 75

A text in any language and its English translation then have nearly the same vector in the
English model's space (Reimers and Gurevych 2020), so that one index holds both: English
texts by the smaller English model, all others by this one. A linear map, fitted first on
English alone, brings the one space near the other; then map and layers are trained so
that the cosine of each pair grows. The table of pieces stays as it is.
"""

import argparse
import json
import os
import random
import time

import numpy as np
import torch

import weights

MOST = 96  # tokens of a text in training


def encode(model, tokenizer, texts, prefix="", size=64):
    """Returns unit vectors, quickly: bfloat16, texts of like length together."""
    ids = [weights.cut(tokenizer.encode(prefix + t).ids, 256) for t in texts]
    out = np.zeros((len(ids), model.config.hidden_size), np.float32)
    order = sorted(range(len(ids)), key=lambda i: len(ids[i]))
    with torch.no_grad(), torch.autocast("cpu", torch.bfloat16):
        for at in range(0, len(order), size):
            some = order[at : at + size]
            out[some] = torch.nn.functional.normalize(pooled(model, [ids[i] for i in some]), dim=1).numpy()
    return out


def pooled(model, ids):
    longest = max(map(len, ids))
    x = torch.tensor([i + [0] * (longest - len(i)) for i in ids])
    mask = torch.tensor([[1] * len(i) + [0] * (longest - len(i)) for i in ids])
    h = model(x, attention_mask=mask).last_hidden_state.float()
    return (h * mask[..., None]).sum(1) / mask.sum(1, keepdim=True)


def ridge(x, y, strength=0.1):
    mean = x.mean(0)
    wide = np.c_[x - mean, np.ones(len(x))]
    w = np.linalg.solve(wide.T @ wide + strength * np.eye(wide.shape[1]), wide.T @ y)
    return w[:-1].T, w[-1] - mean @ w[:-1]


class Student(torch.nn.Module):
    def __init__(self, model):
        super().__init__()
        self.model = model
        self.project = torch.nn.Linear(model.config.hidden_size, model.config.hidden_size)

    def forward(self, ids):
        return torch.nn.functional.normalize(self.project(torch.nn.functional.normalize(pooled(self.model, ids), dim=1)), dim=1)

    def encode(self, tokenizer, texts):
        ids = [weights.cut(tokenizer.encode(t).ids, 256) for t in texts]
        with torch.no_grad(), torch.autocast("cpu", torch.bfloat16):
            return torch.cat([self(ids[i : i + 32]).float() for i in range(0, len(ids), 32)]).numpy()


def batches(items, size, r):
    """Shuffles, and puts items of like length together."""
    r.shuffle(items)
    for at in range(0, len(items), size * 50):
        some = sorted(items[at : at + size * 50], key=lambda i: len(i[0]))
        cut = [some[i : i + size] for i in range(0, len(some), size)]
        r.shuffle(cut)
        yield from cut


def train(folder, path, out, minutes):
    r = random.Random(1)
    english, cut_english, _ = weights.english(folder)
    multilingual, cut, _ = weights.multilingual(folder)
    pairs = [json.loads(line) for line in open(path, encoding="utf-8")]
    r.shuffle(pairs)
    texts = sorted({p["en"] for p in pairs})
    start = time.time()
    target = encode(english, cut_english, texts)
    place = {t: i for i, t in enumerate(texts)}
    print(f"{len(pairs)} pairs over {len(texts)} English texts; their vectors took {time.time() - start:.0f} s", flush=True)
    some = r.sample(range(len(texts)), 15000)
    w, b = ridge(encode(multilingual, cut, [texts[i] for i in some]), target[some])
    student = Student(multilingual)
    student.project.weight.data, student.project.bias.data = torch.tensor(w, dtype=torch.float32), torch.tensor(b, dtype=torch.float32)
    for name, p in student.named_parameters():
        p.requires_grad = "embeddings." not in name
    held, pairs = pairs[:1200], pairs[1200:]
    items = [(weights.cut(cut.encode(p["text"]).ids, MOST), place[p["en"]]) for p in pairs]
    items += [(weights.cut(cut.encode(t).ids, MOST), place[t]) for t in r.sample(texts, len(texts) // 2)]
    check(student, cut, held, target, place)
    fit(student, items, target, minutes, r, lambda: check(student, cut, held, target, place))
    state = {k: v.half() for k, v in student.state_dict().items() if "word_embeddings" not in k}
    torch.save(state, out)
    print("saved", out, flush=True)


def fit(student, items, target, minutes, r, report):
    trained = [p for p in student.parameters() if p.requires_grad]
    optimiser = torch.optim.AdamW(trained, lr=1e-4, weight_decay=0.01, foreach=True)
    start, seen, total, told = time.time(), 0, 0.0, time.time()
    while True:
        for batch in batches(items, 48, r):
            done = (time.time() - start) / (60 * minutes)
            if done >= 1:
                report()
                return
            for group in optimiser.param_groups:
                group["lr"] = 1e-4 * min(1, done / 0.03) * (1 - done)
            with torch.autocast("cpu", torch.bfloat16):
                v = student([i for i, _ in batch])
            loss = (1 - (v.float() * torch.tensor(target[[t for _, t in batch]])).sum(1)).mean()
            optimiser.zero_grad()
            loss.backward()
            torch.nn.utils.clip_grad_norm_(trained, 1.0)
            optimiser.step()
            seen, total = seen + len(batch), total + loss.item() * len(batch)
            if time.time() - told > 300:
                print(f"{(time.time() - start) / 60:.0f} min, {seen} texts, loss {total / seen:.4f}", flush=True)
                report()
                told, seen, total = time.time(), 0, 0.0


def check(student, cut, held, target, place):
    """Prints, by language, the mean cosine of held-out pairs and how many find their own English among all held-out."""
    student.eval()
    goal = target[[place[p["en"]] for p in held]]
    got = student.encode(cut, [p["text"] for p in held])
    for lang in sorted({p["lang"] for p in held}):
        rows = [i for i, p in enumerate(held) if p["lang"] == lang]
        scores = got[rows] @ goal.T
        right = np.mean([scores[k, i] >= scores[k].max() - 1e-6 for k, i in enumerate(rows)])
        print(f"  {lang}: cosine {np.mean([scores[k, i] for k, i in enumerate(rows)]):.3f}, own first {right:.3f}", end="")
    print(flush=True)


if __name__ == "__main__":
    a = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    a.add_argument("weights")
    a.add_argument("pairs")
    a.add_argument("out")
    a.add_argument("--minutes", type=float, default=75)
    a = a.parse_args()
    torch.set_num_threads(int(os.environ.get("THREADS", 2)))
    train(a.weights, a.pairs, a.out, a.minutes)
