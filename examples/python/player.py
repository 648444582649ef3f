"""A player in Python 3, with the standard library alone: it speaks to a venue over WebSocket or lines of TCP.

    python3 player.py ws://127.0.0.1:4600/socket stepping-stones Vole
    python3 player.py tcp://127.0.0.1:4601 reed-regatta Vole
"""

import base64
import json
import os
import random
import socket
import sys
from urllib.parse import urlparse


class Lines:
    """Messages as lines over TCP."""

    def __init__(self, host, port, _path):
        self.file = socket.create_connection((host, port)).makefile("rwb")

    def send(self, text):
        self.file.write(text.encode() + b"\n")
        self.file.flush()

    def receive(self):
        return self.file.readline().decode()


class WebSocket:
    """Messages as text frames (RFC 6455). A venue sends no fragments."""

    def __init__(self, host, port, path):
        self.file = socket.create_connection((host, port)).makefile("rwb")
        key = base64.b64encode(os.urandom(16)).decode()
        self.file.write(
            f"GET {path} HTTP/1.1\r\nHost: {host}:{port}\r\nUpgrade: websocket\r\nConnection: Upgrade\r\n"
            f"Sec-WebSocket-Version: 13\r\nSec-WebSocket-Key: {key}\r\n"
            "Sec-WebSocket-Protocol: zinc-referee.v1\r\n\r\n".encode()
        )
        self.file.flush()
        if b" 101 " not in self.file.readline():
            raise ConnectionError("the venue does not take this connection")
        while self.file.readline().strip():
            pass

    def send(self, text):
        self.frame(0x81, text.encode())

    def frame(self, kind, body):
        size = len(body)
        head = bytes([kind, 0x80 | size]) if size < 126 else bytes([kind, 0xFE]) + size.to_bytes(2, "big")
        mask = os.urandom(4)
        self.file.write(head + mask + bytes(byte ^ mask[at % 4] for at, byte in enumerate(body)))
        self.file.flush()

    def receive(self):
        while head := self.file.read(2):
            size = head[1] & 0x7F
            if size > 125:
                size = int.from_bytes(self.file.read(2 if size == 126 else 8), "big")
            body = self.file.read(size)
            if head[0] & 15 == 9:  # a ping wants a pong
                self.frame(0x8A, body)
            elif head[0] & 15 == 1:
                return body.decode()
            elif head[0] & 15 == 8:
                break
        return ""


class Player:
    """One seat of a match: its view, kept current, and what it may do."""

    def __init__(self, url, mode, name):
        at = urlparse(url)
        self.wire = (Lines if at.scheme == "tcp" else WebSocket)(at.hostname, at.port, at.path)
        self.calls = 0
        joined = self.call("join", mode=mode, name=name, latest=False)
        self.view, self.seat = joined["view"], joined["seat"]
        print(f"{name} sits in {joined['match']} as {self.seat}", flush=True)

    def call(self, method, **params):
        self.calls += 1
        self.wire.send(json.dumps({"jsonrpc": "2.0", "id": self.calls, "method": method, "params": params}))
        while (message := self.next()).get("id") != self.calls:
            pass
        if "error" in message:
            raise ValueError(message["error"]["data"]["problem"])
        return message["result"]

    def next(self):
        message = json.loads(self.wire.receive() or '{"method": "closed", "params": {"why": "connection lost"}}')
        if message.get("method") == "closed":
            raise ConnectionError(message["params"]["why"])
        if message.get("method") == "view":
            params = message["params"]
            self.view = params["view"] if "view" in params else self.view
            for change in params.get("patch", []):
                apply(self.view, change)
        return message

    def act(self, action, **given):
        return self.call("act", action=action, input=given)["ok"]

    def play(self):
        """Does something whenever the view has changed, until there is a verdict."""
        while (phase := self.view["phases"]["now"]["phase"]) != "over":
            if phase == "lobby" and not self.view["roster"]["seats"][self.seat]["ready"]:
                self.act("roster.ready")
            elif phase == "live":
                self.move()
            while self.next().get("method") != "view":
                pass
        return self.view["verdict"]["end"]

    def move(self):
        """Takes any option in the view; on the regatta, which lists none, what a raft does there."""
        others = [seat for seat in self.view["roster"]["seats"] if seat != self.seat]
        rafts = [("raft.search", {}), ("raft.dock", {}), ("raft.chase", {"quarry": random.choice(others)})]
        offered = [
            (f"{rule}.{action}", given)
            for rule, parts in self.view.items()
            for action, options in parts.get("options", {}).items()
            for given in options
        ]
        if choices := rafts if "raft" in self.view else offered:
            action, given = random.choice(choices)
            self.act(action, **given)


def apply(view, change):
    """Applies one operation of a JSON Patch (RFC 6902): add, replace or remove."""
    *path, last = [part.replace("~1", "/").replace("~0", "~") for part in change["path"].split("/")[1:]]
    for part in path:
        view = view[int(part) if isinstance(view, list) else part]
    if change["op"] == "remove":
        view.pop(int(last) if isinstance(view, list) else last)
    elif isinstance(view, dict):
        view[last] = change["value"]
    elif change["op"] == "add":
        view.insert(len(view) if last == "-" else int(last), change["value"])
    else:
        view[int(last)] = change["value"]


if __name__ == "__main__":
    print("verdict:", json.dumps(Player(*sys.argv[1:4]).play()), flush=True)
