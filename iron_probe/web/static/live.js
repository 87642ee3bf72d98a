"use strict";
// What others log shows here within a second: parts of the page that nobody types in are brought up to date, and what is typed does not move.
(() => {
  const { liveJob, liveSeen } = document.body.dataset;
  if (liveJob === undefined || !window.EventSource) return;
  const PARTS = "#guide, .last-word, main section[aria-label], main ol.berths";
  const own = new Set(); // entries sent from here: what they change is on the page already
  let seen = Number(liveSeen), busy = false, again = false;

  const name = (part) => part.id || part.getAttribute("aria-label") || part.className;
  const parts = (page) => [...page.querySelectorAll(PARTS)].filter((part) => !part.parentElement.closest(PARTS));
  const touched = (part) => part.contains(document.activeElement) && part.matches(":has(:is(input, textarea, select):focus)")
    || [...part.querySelectorAll("input:not([type=hidden]), textarea, select")].some((f) => f.type === "checkbox" || f.type === "radio" ? f.checked !== f.defaultChecked : f.tagName === "SELECT" ? [...f.options].some((o) => o.selected !== o.defaultSelected && [...f.options].some((d) => d.defaultSelected)) : f.value !== f.defaultValue);

  async function refresh() {
    if (busy) { again = true; return; }
    busy = true;
    try {
      const answer = await fetch(location.href, { headers: { Accept: "text/html" }, signal: AbortSignal.timeout(15000) });
      if (!answer.ok || answer.redirected) return;
      const fresh = new DOMParser().parseFromString(await answer.text(), "text/html");
      const anew = new Map(parts(fresh).map((part) => [name(part), part]));
      const held = document.activeElement, top = held?.getBoundingClientRect().top;
      for (const part of parts(document)) {
        const next = anew.get(name(part));
        if (!next || touched(part) || part.querySelector("[data-entry]") || part.innerHTML === next.innerHTML) continue;
        part.replaceChildren(...next.cloneNode(true).childNodes);
        window.htmx?.process(part);
        part.dispatchEvent(new CustomEvent("htmx:afterSettle", { detail: {}, bubbles: true })); // what hangs on it is hung on again
      }
      if (held?.isConnected && held !== document.body) window.scrollBy(0, held.getBoundingClientRect().top - top);
    } catch { /* the link is down: link.js says so, and the next line brings the page up to date */ } finally {
      busy = false;
      if (again) { again = false; refresh(); }
    }
  }

  for (const sent of ["submit", "htmx:configRequest"]) document.addEventListener(sent, (event) => {
    const form = event.target.closest?.("form"), id = form?.elements.entry_id?.value;
    if (id) own.add(id);
  }, true);

  function beep() {
    const sound = new AudioContext(), tone = sound.createOscillator(), loud = sound.createGain();
    tone.frequency.value = 880;
    loud.gain.setValueAtTime(0.2, sound.currentTime);
    loud.gain.exponentialRampToValueAtTime(0.001, sound.currentTime + 0.9);
    tone.connect(loud).connect(sound.destination);
    tone.start();
    tone.stop(sound.currentTime + 0.9);
  }

  function cameDue({ job, until, what }) { // once on this device, on the screen always, beside it where that was allowed
    const key = `due ${job} ${until} ${what}`;
    if (sessionStorage.getItem(key)) return;
    sessionStorage.setItem(key, "told");
    const word = document.getElementById("due"), link = document.createElement("a");
    link.href = `/jobs/${job}`;
    link.textContent = `Job ${job} is due`;
    word.replaceChildren(link, `. ${what}`);
    word.hidden = false;
    refresh();
    if (localStorage.getItem("tell-due") !== "yes") return;
    beep();
    if (window.Notification?.permission === "granted") new Notification(`Job ${job} is due`, { body: what, tag: key });
  }

  const wanted = document.querySelector("[data-tell-due]");
  if (wanted) {
    wanted.checked = localStorage.getItem("tell-due") === "yes";
    wanted.addEventListener("change", async () => {
      localStorage.setItem("tell-due", wanted.checked ? "yes" : "");
      if (wanted.checked) { beep(); await window.Notification?.requestPermission(); }
    });
  }

  let stream = null;
  function listen() { // only while it is seen: a browser holds six connections to a host, for all its tabs together
    if (stream || document.visibilityState !== "visible") return;
    stream = new EventSource(`/live?job=${liveJob}`);
    stream.addEventListener("line", (event) => {
      const told = JSON.parse(event.data);
      if (told.seq <= seen && !(told.entry && liveJob === "0")) return; // lines of different jobs may come out of their order
      seen = Math.max(seen, told.seq);
      if (!own.has(told.entry)) refresh();
    });
    stream.addEventListener("meter", (event) => document.dispatchEvent(new CustomEvent("meter", { detail: JSON.parse(event.data) })));
    stream.addEventListener("due", (event) => cameDue(JSON.parse(event.data)));
  }
  function leave() {
    stream?.close();
    stream = null;
  }
  document.addEventListener("visibilitychange", () => (document.visibilityState === "visible" ? listen() : leave()));
  addEventListener("pagehide", leave);
  addEventListener("pageshow", listen);
  listen();
})();
