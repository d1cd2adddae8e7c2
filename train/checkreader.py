"""Writes what the reader makes of some questions in float32, for the Go tests to compare with.

    python checkreader.py WEIGHTS reader.pt CANDIDATES.jsonl ../reader/testdata/readings.json
"""

import json
import random
import sys

import torch

import examples
import reading


def main(folder, trained, candidates, out, count=24):
    r = random.Random(5)
    model = reading.Reader(folder)
    model.load_state_dict({k: v.float() for k, v in torch.load(trained).items()}, strict=False)
    packer = reading.Packer(model.tokenizer)
    # Of our own documents alone: what stands in tests is published.
    lines = [json.loads(line) for line in open(candidates, encoding="utf-8")]
    lines = [e for e in lines if e["group"] == "made" and e["candidates"]]
    for e in lines:
        for c in e["candidates"]:
            c["bytes"], c["sentences"] = c["sentences"], examples.in_characters(c["text"], c["sentences"])
    written = []
    for e in r.sample(lines, count):
        c = r.choice(e["candidates"][:4])
        words = examples.asked(e, r, noise=False)
        packed = packer.pack(words, c)
        ids, mask, sentence = reading.stack([packed])
        with torch.no_grad():
            whole, token = model(ids, mask)
        evidence = torch.softmax(reading.by_sentence(token[..., 0], sentence)[0], 0)
        written.append(dict(
            question=words, heading=c["heading"], text=c["text"], sentences=c["bytes"], pieces=len(packed[0]),
            relevance=round(whole[0, 0].item(), 4), polarity=[round(p, 4) for p in torch.softmax(whole[0, 1:4], 0).tolist()],
            evidence=[round(p, 4) for p in evidence.tolist()],
        ))
    with open(out, "w", encoding="utf-8") as f:
        f.write("[\n" + ",\n".join(json.dumps(w, ensure_ascii=False) for w in written) + "\n]\n")


if __name__ == "__main__":
    main(*sys.argv[1:])
