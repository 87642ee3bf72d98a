"use strict";
// A meter on a serial port of this browser: the page carries the app's questions to it and its answers back, nothing else.
(() => {
  const part = document.querySelector("[data-serial]"), KEPT = "iron_probe_serial", AGAIN_MS = 3000;
  if (!navigator.serial) { part?.querySelector("[data-serial-none]")?.removeAttribute("hidden"); return; }
  const kept = () => { try { return JSON.parse(localStorage.getItem(KEPT)); } catch { return null; } };
  const say = (text) => { const at = part?.querySelector("[data-serial-word]"); if (at && at.textContent !== text) at.textContent = text; };
  let port = null, socket = null, asked = 0, line = "", wanted = false;

  async function hear() { // each whole line is the answer to the newest question
    const decoder = new TextDecoder();
    const reader = port.readable.getReader();
    try {
      for (;;) {
        const { value, done } = await reader.read();
        if (done) break;
        line = (line + decoder.decode(value, { stream: true })).slice(-400);
        for (let end = line.search(/[\r\n]/); end >= 0; end = line.search(/[\r\n]/)) {
          const said = line.slice(0, end);
          line = line.slice(end + 1);
          if (said && socket?.readyState === WebSocket.OPEN) socket.send(JSON.stringify({ number: asked, said }));
        }
      }
    } catch { /* unplugged: the app says that it does not answer */ } finally { reader.releaseLock(); }
  }

  async function ask({ number, ask: words }) {
    asked = number;
    line = "";
    const writer = port.writable.getWriter();
    try { await writer.write(new TextEncoder().encode(`${words}\n`)); } finally { writer.releaseLock(); }
  }

  function join() {
    socket = new WebSocket(`${location.protocol === "https:" ? "wss" : "ws"}://${location.host}/meters/browser?device=${kept()?.device}`);
    socket.addEventListener("message", ({ data }) => {
      const told = JSON.parse(data);
      if (told.ask) ask(told).catch(() => say("Nothing can be sent to it: plug it in again"));
      else if (told.wrong) { wanted = false; say(told.wrong); }
      else say(`${told.joined}, ${told.identity}: joined. Take it on a job, under Meters; it comes along from page to page.`);
    });
    socket.addEventListener("close", () => { if (wanted) setTimeout(join, AGAIN_MS); });
  }

  async function open(chosen, bauds) {
    wanted = false;
    socket?.close();
    port = chosen;
    try { await port.open({ baudRate: bauds }); } catch { say("Its port is in use: in another tab or program"); return; }
    wanted = true;
    hear();
    join();
  }

  part?.querySelector("form").removeAttribute("hidden");
  part?.querySelector("form").addEventListener("submit", async (event) => {
    event.preventDefault();
    const bauds = Number(event.target.elements.bauds.value);
    try {
      const chosen = await navigator.serial.requestPort();
      localStorage.setItem(KEPT, JSON.stringify({ bauds, device: kept()?.device || crypto.randomUUID() }));
      say("Asking it what it is");
      await open(chosen, bauds);
    } catch { say("No port was chosen"); }
  });
  part?.querySelector("[data-serial-leave]").addEventListener("click", () => {
    wanted = false;
    localStorage.removeItem(KEPT);
    socket?.close();
    say("It is let go");
  });

  const again = () => { const before = kept(); if (before) navigator.serial.getPorts().then(([first]) => { if (first) open(first, before.bauds); }); };
  navigator.serial.addEventListener?.("connect", again); // plugged in again
  again();
})();
