"""Two hosts on one database behind a plain reverse proxy (nginx): what is logged through one shows on the other, and one that is killed stops nobody."""

import contextlib
import json
import os
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import threading
import time
import urllib.request
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import psycopg

from iron_probe.store.cluster import cluster
from tools.served import ROOT, until
from tools.technician import Technician

SECONDS = float(os.environ.get("IRON_PROBE_LOAD_S", "60"))
PROXY = """
daemon off; worker_processes 1; pid {folder}/nginx.pid; error_log {folder}/error.log;
events {{ worker_connections 512; }}
http {{ access_log off; client_body_temp_path {folder}/body; proxy_temp_path {folder}/proxy; fastcgi_temp_path {folder}/f; uwsgi_temp_path {folder}/u; scgi_temp_path {folder}/s;
  upstream hosts {{ server 127.0.0.1:{a}; server 127.0.0.1:{b}; }}
  server {{ listen 127.0.0.1:{port}; proxy_set_header Host $host; proxy_set_header X-Forwarded-For $remote_addr; proxy_http_version 1.1;
    location / {{ proxy_pass http://hosts; proxy_next_upstream error timeout; }}
    location /live {{ proxy_pass http://hosts; proxy_buffering off; proxy_read_timeout 1h; }} }} }}
"""


def free_ports(count: int) -> list[int]:
    """Ports that nothing listens on."""
    with contextlib.ExitStack() as held:
        found = []
        for _ in range(count):
            probe = held.enter_context(socket.socket())
            probe.bind(("127.0.0.1", 0))
            found.append(int(probe.getsockname()[1]))
    return found


@contextlib.contextmanager
def host(url: str, data: Path, port: int) -> Iterator[subprocess.Popen[bytes]]:
    """A host with app processes and a worker of its own, on a database elsewhere."""
    data.mkdir()
    env = {**os.environ, "IRON_PROBE_DATABASE_URL": url, "IRON_PROBE_DATA": str(data), "IRON_PROBE_PORT": str(port)}
    with (data / "said.txt").open("ab") as said:
        process = subprocess.Popen(
            [sys.executable, "-m", "iron_probe.cli", "serve"], cwd=ROOT, env=env, stdout=said, start_new_session=True
        )
    try:
        until(lambda: _answers(port), f"the host on {port} answers")
        yield process
    finally:
        with contextlib.suppress(ProcessLookupError):
            os.killpg(process.pid, signal.SIGTERM)
        process.wait(60)


def _answers(port: int) -> bool:
    try:
        urllib.request.urlopen(f"http://127.0.0.1:{port}/ready", timeout=2).close()
    except OSError:
        return False
    return True


class Screen(threading.Thread):
    """A screen of a job that listens, and begins again when its stream ends, as a browser does."""

    def __init__(self, url: str, job: int) -> None:
        super().__init__(daemon=True)
        self.url, self.job = url, job
        self.heard: dict[str, float] = {}
        self.ended = threading.Event()

    def run(self) -> None:
        while not self.ended.is_set():
            with contextlib.suppress(OSError, ValueError), urllib.request.urlopen(f"{self.url}/live?job={self.job}", timeout=20) as stream:
                for line in stream:
                    if line.startswith(b"data: {") and (entry := json.loads(line[6:]).get("entry")):
                        self.heard.setdefault(entry, time.monotonic())


def table() -> str:
    """Work through the proxy, kill one host midway, and count."""
    if shutil.which("nginx") is None:
        raise SystemExit("two_hosts needs nginx: apt-get install nginx-light")
    with tempfile.TemporaryDirectory(prefix="iron-probe-") as name:
        folder = Path(name)
        folder.chmod(0o755)
        a, b, port = free_ports(3)
        (folder / "nginx.conf").write_text(PROXY.format(folder=folder, a=a, b=b, port=port))
        with cluster(folder / "postgres", throwaway=True) as url, host(url, folder / "a", a) as first, host(url, folder / "b", b):
            proxy = subprocess.Popen(["nginx", "-p", str(folder), "-c", str(folder / "nginx.conf")])
            try:
                until(lambda: _answers(port), "the proxy answers")
                return _worked(f"http://127.0.0.1:{port}", [f"http://127.0.0.1:{p}" for p in (a, b)], url, first)
            finally:
                proxy.terminate()
                proxy.wait(20)


def _worked(proxy: str, hosts: list[str], url: str, first: "subprocess.Popen[bytes]") -> str:
    technicians = [Technician(proxy, job) for job in (101, 102, 103, 104, 105, 106)]
    screens = [Screen(hosts[1], t.job) for t in technicians]
    for thread in (*screens, *technicians):
        thread.start()
    until(lambda: all(len(t.accepted) >= 2 for t in technicians), "readings come in")
    time.sleep(SECONDS / 2)
    os.killpg(first.pid, signal.SIGKILL)
    at_kill = sum(len(t.accepted) for t in technicians)
    time.sleep(SECONDS / 2)
    for thread in technicians:
        thread.ended.set()
        thread.join(60)
    time.sleep(2.0)
    with psycopg.connect(url.replace("+psycopg", "")) as connection:
        kept = [str(row[0]) for row in connection.execute("select id from log_entry").fetchall()]
    accepted = {entry: at for t in technicians for entry, at in t.at.items()}
    heard = {entry: at for s in screens for entry, at in s.heard.items()}
    delays = [1000 * max(heard[e] - at, 0.0) for e, at in accepted.items() if e in heard]
    refused = sorted({status for t in technicians for status in t.refused})
    p50, p95 = np.percentile(delays, (50, 95))
    return "\n".join([
        "## Two hosts on one database behind nginx", "",
        f"Six technicians log through the proxy without a pause for {SECONDS:.0f} s; screens listen on the second host; the first host is killed with all its processes midway. "
        f"Accepted {len(accepted)} ({len(accepted) - at_kill} after the kill), lost {len(set(accepted) - set(kept))}, doubled {len(kept) - len(set(kept))}; "
        f"answers that were refusals: {', '.join(map(str, refused)) or 'none'}. On a screen of the other host a line showed {p50:.0f} / {p95:.0f} ms (p50 / p95) after its answer; "
        f"not told of: {len(set(accepted) - set(heard))}.", "",
    ])  # fmt: skip
