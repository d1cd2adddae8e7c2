"""Writes and reads model files; docs/model-format.md describes the format."""

import json
import struct

import numpy as np

MAGIC = b"JARDMODL"
VERSION = 1
ALIGN = 64
PANEL = 16  # columns


def _crc_table():
    table = []
    for n in range(256):
        for _ in range(8):
            n = n >> 1 ^ 0x82F63B78 if n & 1 else n >> 1
        table.append(n)
    return np.array(table, np.uint32)


_TABLE = _crc_table()


def crc32c(data):
    """CRC-32C. Blocks are taken side by side and then joined, so that numpy does the work."""
    data = np.frombuffer(data, np.uint8)
    block = 4096
    whole = len(data) // block * block
    crc = np.uint32(0xFFFFFFFF)
    if whole:
        # The register is linear over GF(2): run all blocks from zero at once, then fold them in.
        parts = np.zeros(whole // block, np.uint32)
        rows = data[:whole].reshape(-1, block)
        for k in range(block):
            parts = _TABLE[(parts ^ rows[:, k]) & 0xFF] ^ parts >> np.uint32(8)
        shift = _shifter(block)
        for part in parts:
            crc = shift(crc) ^ part
    for byte in data[whole:]:
        crc = _TABLE[(crc ^ byte) & 0xFF] ^ crc >> np.uint32(8)
    return int(crc ^ np.uint32(0xFFFFFFFF))


def _shifter(zeros):
    """Returns what so many zero bytes make of a register, as four look-ups."""
    basis = np.array([1 << i for i in range(32)], np.uint32)
    for _ in range(zeros):
        basis = _TABLE[basis & 0xFF] ^ basis >> np.uint32(8)
    tables = []
    for byte in range(4):
        table = np.zeros(256, np.uint32)
        for bit in range(8):
            table[np.arange(256) >> bit & 1 == 1] ^= basis[8 * byte + bit]
        tables.append(table)
    return lambda c: tables[0][c & 255] ^ tables[1][c >> 8 & 255] ^ tables[2][c >> 16 & 255] ^ tables[3][c >> 24]


class Writer:
    """Gathers tensors and writes them behind a JSON header."""

    def __init__(self, header):
        self.header = dict(header, tensors=[])
        self.parts = []
        self.offset = 0

    def add(self, name, data):
        raw = data if isinstance(data, bytes) else np.ascontiguousarray(data).tobytes()
        pad = -self.offset % ALIGN
        self.parts.append(b"\0" * pad)
        self.offset += pad
        self.header["tensors"].append({"name": name, "offset": self.offset, "length": len(raw), "crc32c": crc32c(raw)})
        self.parts.append(raw)
        self.offset += len(raw)

    def linear(self, name, weight, bias, precision):
        """Adds a map; weight is N×K as PyTorch has it."""
        w, n, k = weight.astype(np.float32), weight.shape[0], weight.shape[1]
        if precision == "float32":
            self.add(name + ".f32", w.reshape(n // PANEL, PANEL, k).transpose(0, 2, 1))
        else:
            scale = np.abs(w).max(1) / 127
            scale[scale == 0] = 1
            q = np.clip(np.rint(w / scale[:, None]), -127, 127).astype(np.int8)
            self.add(name + ".q8", q.reshape(n // PANEL, PANEL, k // 4, 4).transpose(0, 2, 1, 3))
            self.add(name + ".scale", scale.astype(np.float32))
            self.add(name + ".sum", q.astype(np.int32).sum(1).astype(np.int32))
        self.add(name + ".bias", bias.astype(np.float32))

    def rows(self, name, table, precision):
        """Adds a table of which single rows are looked up."""
        if precision == "float32":
            self.add(name + ".f32", table.astype(np.float32))
        elif precision == "int4":
            blocks = table.astype(np.float32).reshape(table.shape[0], -1, 32)
            most = np.take_along_axis(blocks, np.abs(blocks).argmax(2)[..., None], 2)[..., 0]
            scale = (most / -8).astype(np.float16)
            safe = np.where(scale == 0, 1, scale).astype(np.float32)
            q = np.clip(np.rint(blocks / safe[..., None]), -8, 7).astype(np.int8) + 8
            self.add(name + ".q4", (q[..., :16] | q[..., 16:] << 4).astype(np.uint8))
            self.add(name + ".f16", scale)
        else:
            scale = np.abs(table).max(1) / 127
            scale[scale == 0] = 1
            self.add(name + ".q8", np.clip(np.rint(table / scale[:, None]), -127, 127).astype(np.int8))
            self.add(name + ".scale", scale.astype(np.float32))

    def write(self, path):
        head = json.dumps(self.header, separators=(",", ":")).encode()
        head += b" " * (-(20 + len(head)) % ALIGN)
        with open(path, "wb") as f:
            f.write(MAGIC + struct.pack("<III", VERSION, len(head), crc32c(head)) + head)
            for part in self.parts:
                f.write(part)
