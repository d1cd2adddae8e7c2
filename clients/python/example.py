"""Asks the demo a question, and prints the answer with the pages that prove it.

    make demo && python3 clients/python/example.py
"""

import os
import sys

from jardinet import Client, Problem

client = Client(os.environ.get("JARDINET_SERVER", "http://127.0.0.1:8090"), os.environ.get("JARDINET_KEY"))
try:
    answer = client.ask("halvern", {"question": "How long may seed stay out of the vault?"})
except (Problem, OSError) as problem:
    sys.exit(f"The demo cannot be asked: {problem}")
print(answer["short"] or answer["answer"])
for citation in answer["citations"]:
    print(f'[{citation["number"]}] {citation["document"]}, page {citation["page"]}: {citation["quote"]}')
