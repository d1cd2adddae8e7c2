"""The reader: an encoder with heads that say whether a passage answers a question.

A question and a passage go through the layers together, so that each word of the one sees
each of the other. Heads on the last layer's rows say

    relevance   does the passage answer? against a constant 0, so that a score means the
                same for each question
    evidence    of each sentence, the mean over its tokens: does it prove the answer?
    start, end  of each token: do the words that answer begin or end here?
    polarity    does the passage say yes, no, or neither?
    shape       is asked for a value, for a sentence, or for steps or a list?
"""

import torch
from torch import nn
from transformers import AttentionInterface
from transformers.masking_utils import AttentionMaskInterface, eager_mask

import weights

MOST = 256  # tokens of a question with a passage
MOST_QUESTION = 48
MOST_HEADING = 28


def attention(module, query, key, value, mask, **_):
    """Attention in plain products, all in bfloat16 under autocast: on a processor its way back is twice as fast as the fused one's."""
    kind = torch.bfloat16 if torch.is_autocast_enabled("cpu") else query.dtype
    with torch.autocast("cpu", enabled=False):
        query, key, value = (x.to(kind) for x in (query, key, value))
        scores = torch.matmul(query * query.shape[-1] ** -0.5, key.transpose(-1, -2))
        if mask is not None:
            scores = scores + mask.to(scores.dtype)
        return torch.matmul(torch.softmax(scores, -1), value).transpose(1, 2).contiguous(), None


AttentionInterface.register("plain", attention)
AttentionMaskInterface.register("plain", eager_mask)


class Reader(nn.Module):
    def __init__(self, folder, aligned=None):
        """The English encoder's layers, or the multilingual one's as align.py left them."""
        super().__init__()
        self.body, self.tokenizer, self.pieces = weights.multilingual(folder) if aligned else weights.english(folder)
        if aligned:
            weights.align(self.body, aligned)
        self.body.config._attn_implementation = "plain"
        # Dropout runs on one thread only on a processor, and slows training five times.
        for m in self.body.modules():
            if isinstance(m, nn.Dropout):
                m.p = 0.0
            if hasattr(m, "dropout_prob"):
                m.dropout_prob = 0.0
        width = self.body.config.hidden_size
        self.inner = nn.Linear(width, width)  # of what is said about the passage as a whole
        self.whole = nn.Linear(width, 1 + 3 + 3)  # relevance, polarity, shape
        self.token = nn.Linear(width, 3)  # evidence, start, end

    def forward(self, ids, mask):
        rows = self.body(ids, attention_mask=mask).last_hidden_state
        return self.whole(torch.tanh(self.inner(rows[:, 0]))).float(), self.token(rows).float()


class Packer:
    """Cuts texts into tokens once and puts question and passage together."""

    def __init__(self, tokenizer):
        self.tokenizer = tokenizer
        self.begin, self.end = tokenizer.encode("").ids
        self.known = {}

    def cut(self, text):
        """Returns the ids and the character ranges of a text's pieces."""
        if text not in self.known:
            e = self.tokenizer.encode(text, add_special_tokens=False)
            self.known[text] = (e.ids, e.offsets)
        return self.known[text]

    def pack(self, question, passage, skip=None):
        """Returns ids, the sentence of each token (-1 for none) and its characters in the passage's text.

        A passage has a heading, a text and the character ranges of its sentences; the
        sentences in skip are left out.
        """
        ids = [self.begin] + self.cut(question)[0][:MOST_QUESTION] + [self.end]
        heading = self.cut(passage["heading"])[0] if passage["heading"] else []
        if heading:
            ids += heading[-MOST_HEADING:] + self.cut(":")[0]
        sentence, place = [-1] * len(ids), [(-1, -1)] * len(ids)
        for k, (start, end) in enumerate(passage["sentences"]):
            if skip and k in skip:
                continue
            some, where = self.cut(passage["text"][start:end])
            room = MOST - 1 - len(ids)
            ids += some[:room]
            sentence += [k] * len(some[:room])
            place += [(start + a, start + b) for a, b in where[:room]]
        return ids + [self.end], sentence + [-1], place + [(-1, -1)]


def stack(packed):
    longest = max(len(p[0]) for p in packed)
    ids = torch.tensor([p[0] + [0] * (longest - len(p[0])) for p in packed])
    mask = torch.tensor([[1] * len(p[0]) + [0] * (longest - len(p[0])) for p in packed])
    sentence = torch.tensor([p[1] + [-1] * (longest - len(p[1])) for p in packed])
    return ids, mask, sentence


def by_sentence(score, sentence):
    """Means of token scores (texts × tokens) over sentences: texts × sentences, -1e4 where there is none."""
    count = max(int(sentence.max()) + 1, 1)
    one = nn.functional.one_hot(sentence + 1, count + 1)[..., 1:].float()
    size = one.sum(1)
    mean = (one * score[..., None]).sum(1) / size.clamp(min=1)
    return torch.where(size > 0, mean, torch.full_like(mean, -1e4))
