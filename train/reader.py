"""Trains the reader.

    python reader.py WEIGHTS CANDIDATES.jsonl OUT.pt [--warm 20] [--minutes 60] [--from IN.pt]

CANDIDATES.jsonl is what `go run ./train/candidates` writes. The first --warm minutes go to
made questions (cloze.py), the next --minutes to real ones; then OUT.pt is written in
float16, and what the reader does on the documents kept for development is printed.
"""

import argparse
import os
import random
import time

import numpy as np
import torch
from torch import nn

import examples
import reading


def run(model, packed):
    """Puts texts through the model in three batches of like length; returns rows of the heads."""
    order = sorted(range(len(packed)), key=lambda i: len(packed[i][0]))
    whole, parts = [None] * len(packed), [None] * len(packed)
    step = -(-len(order) // 3)
    for at in range(0, len(order), step):
        some = order[at : at + step]
        ids, mask, sentence = reading.stack([packed[i] for i in some])
        with torch.autocast("cpu", torch.bfloat16):
            w, t = model(ids, mask)
        s = reading.by_sentence(t[..., 0], sentence)
        inside = torch.where(sentence >= 0, 0.0, -1e4)
        for k, i in enumerate(some):
            whole[i] = w[k]
            parts[i] = (s[k], t[k, :, 1] + inside[k], t[k, :, 2] + inside[k])
    return whole, parts


def loss_of(group, whole, parts):
    score = torch.cat([torch.zeros(1), torch.stack([w[0] for w in whole])])
    loss = nn.functional.cross_entropy(score[None], torch.tensor([group["target"]]))
    if not group["target"]:
        return loss
    w, (sentences, start, end) = whole[group["target"] - 1], parts[group["target"] - 1]
    if group["evidence"]:
        loss = loss - torch.logsumexp(torch.log_softmax(sentences, 0)[group["evidence"]], 0)
    if group["spans"]:
        first, last = zip(*group["spans"])
        both = torch.log_softmax(start, 0)[list(first)] + torch.log_softmax(end, 0)[list(last)]
        loss = loss - 0.3 * torch.logsumexp(both, 0)
    if group["polarity"] is not None:
        loss = loss + 0.2 * nn.functional.cross_entropy(w[None, 1:4], torch.tensor([group["polarity"]]))
    if group["shape"] is not None:
        loss = loss + 0.1 * nn.functional.cross_entropy(w[None, 4:7], torch.tensor([group["shape"]]))
    return loss


def fit(model, groups, minutes, rate, report, out, size=10):
    """Trains on what groups yields for so many minutes, the rate falling to nothing. What was learnt so far is kept."""
    heads = [p for n, p in model.named_parameters() if not n.startswith("body.")]
    body = [p for n, p in model.named_parameters() if n.startswith("body.encoder")]
    optimiser = torch.optim.AdamW([dict(params=body, lr=rate, top=rate), dict(params=heads, lr=1e-3, top=20 * rate)], weight_decay=0.01, foreach=True)
    start, told, seen, total = time.time(), time.time(), 0, []
    while True:
        done = (time.time() - start) / (60 * minutes)
        if done >= 1:
            return
        for g in optimiser.param_groups:
            g["lr"] = g["top"] * min(1, done / 0.04) * (1 - done)
        some = [next(groups) for _ in range(size)]
        whole, parts = run(model, [p for g in some for p in g["packed"]])
        loss, at = 0, 0
        for g in some:
            n = len(g["packed"])
            loss = loss + loss_of(g, whole[at : at + n], parts[at : at + n]) / size
            at += n
        optimiser.zero_grad()
        loss.backward()
        nn.utils.clip_grad_norm_(body + heads, 1.0)
        optimiser.step()
        seen, total = seen + at, total + [loss.item()]
        if time.time() - told > 600:
            told = time.time()
            print(f"{(told - start) / 60:.0f} min, {len(total)} steps, {seen / (told - start):.0f} passages/s, loss {np.mean(total[-100:]):.3f}", flush=True)
            report()
            save(model, out + ".part")


def cloze_groups(passages, packer, r):
    while True:
        g = examples.cloze_group(passages, r.randrange(len(passages)), packer, r)
        if g:
            yield g


def real_groups(train, packer, r):
    """Questions again and again; of the demo, which has the most, a part at a time."""
    while True:
        some = [e for e in train if e["group"] != "demo" or r.random() < 0.3]
        r.shuffle(some)
        for e in some:
            g = examples.group(e, packer, r)
            if g["packed"]:
                yield g


def passages_of(lists):
    """All passages once, in the order of their documents."""
    known = {}
    for e in lists:
        for c in e["candidates"]:
            if len(c["text"]) > 60:
                known.setdefault((c["document"], min(c["pages"] or [0]), c["text"]), c)
    return [known[k] for k in sorted(known)]


def auroc(right, wrong):
    right, wrong = np.array(right), np.array(wrong)
    return float((right[:, None] > wrong[None]).mean() + 0.5 * (right[:, None] == wrong[None]).mean())


def words_within(c, best, scores, most):
    """The run of whole sentences around the best, of at most so many words, with the highest scores."""
    low = high = best
    count = lambda a, b: len(c["text"][c["sentences"][a][0] : c["sentences"][b][1]].split())
    while True:
        grown = [(scores[k], a, b) for k, a, b in ((low - 1, low - 1, high), (high + 1, low, high + 1)) if 0 <= k < len(scores) and count(a, b) <= most]
        if not grown:
            return c["text"][c["sentences"][low][0] : c["sentences"][high][1]]
        _, low, high = max(grown)


@torch.no_grad()
def check(model, packer, dev):
    """Prints how development questions are read."""
    r = random.Random(0)
    first, held, spanned, sentence, right, wrong = [], [], [], [], [], []
    for e in dev:
        some = e["candidates"][:12]
        if not some:
            continue
        whole, parts = run(model, [packer.pack(examples.asked(e, r, noise=False), c) for c in some])
        scores = [w[0].item() for w in whole]
        best = int(np.argmax(scores))
        (right if e["answerable"] else wrong).append(scores[best])
        if not e["answerable"]:
            continue
        c = some[best]
        first.append(c["right"])
        forms = [examples.bare(f) for f in e["accept"]]
        s = parts[best][0].tolist()[: len(c["sentences"])]
        k = int(np.argmax(s))
        start, end = c["sentences"][k]
        sentence.append(any(f in examples.bare(c["text"][start:end]) for f in forms))
        held.append(any(f in examples.bare(words_within(c, k, s, 40)) for f in forms))
    print(f"   {len(first)} + {len(wrong)} questions: right passage first {np.mean(first):.3f}, accepted within its best sentence {np.mean(sentence):.3f}, within 40 words {np.mean(held):.3f}, answerable told from not {auroc(right, wrong):.3f}", flush=True)


def main(a):
    torch.manual_seed(a.seed)
    r = random.Random(a.seed)
    model = reading.Reader(a.weights, a.aligned)
    if a.start:
        model.load_state_dict({k: v.float() for k, v in torch.load(a.start).items()}, strict=False)
    packer = reading.Packer(model.tokenizer)
    train, dev = examples.load(a.candidates)
    if a.only:
        train = r.sample(train, min(a.only, len(train)))
    print(f"{len(train)} questions to learn from, {len(dev)} for development", flush=True)
    for p in model.body.embeddings.parameters():
        p.requires_grad = False
    report = lambda: check(model, packer, r.sample(dev, min(len(dev), a.check)))
    if a.warm:
        passages = passages_of(train)
        print(f"{len(passages)} passages for made questions", flush=True)
        fit(model, cloze_groups(passages, packer, r), a.warm, 1e-4, report, a.out)
        save(model, a.out + ".warm")
    if a.minutes:
        fit(model, real_groups(train, packer, r), a.minutes, 6e-5, report, a.out)
    save(model, a.out)
    for name in ("made", "manuals", "known"):
        print(name)
        check(model, packer, [e for e in dev if e["group"] == name])


def save(model, path):
    torch.save({k: v.half() for k, v in model.state_dict().items() if not k.startswith("body.embeddings.")}, path)
    print("saved", path, flush=True)


if __name__ == "__main__":
    p = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    p.add_argument("weights")
    p.add_argument("candidates")
    p.add_argument("out")
    p.add_argument("--warm", type=float, default=20, help="minutes on made questions")
    p.add_argument("--minutes", type=float, default=60, help="minutes on real questions")
    p.add_argument("--aligned", help="what align.py made, for a reader of the multilingual encoder")
    p.add_argument("--from", dest="start", help="go on from what was trained before")
    p.add_argument("--only", type=int, default=0, help="learn from so many questions, for learning curves")
    p.add_argument("--check", type=int, default=80, help="development questions looked at on the way")
    p.add_argument("--seed", type=int, default=1)
    a = p.parse_args()
    torch.set_num_threads(int(os.environ.get("THREADS", 2)))
    main(a)
