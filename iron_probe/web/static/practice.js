"use strict";
// The practice bay: each field has a key that reads the stand-in where the field says the leads are, and types what it shows; the cabin is heard.
(() => {
  const job = document.body.dataset.liveJob;

  function offer() {
    for (const form of document.querySelectorAll("form[data-entry]")) {
      if (form.querySelector("[data-read]") || !(form.elements.instrument || form.elements.way || form.elements.at?.value === "total")) continue;
      const key = Object.assign(document.createElement("button"), { type: "button", className: "button small read-key", textContent: "Read the meter" });
      key.dataset.read = key.dataset.key = "m";
      key.append(" ", Object.assign(document.createElement("kbd"), { textContent: "m" }));
      const log = [...form.querySelectorAll("button:not([type=button], [data-sure])")].pop();
      if (log) log.before(key); else form.append(key);
    }
  }

  function put(form, { value, word, heard, unsteady }) {
    if (value !== undefined) {
      const field = [...form.elements.value instanceof RadioNodeList ? form.elements.value : [form.elements.value]].find((f) => f.offsetParent) || form.elements.value;
      field.value = value;
      field.dispatchEvent(new Event("input", { bubbles: true }));
      field.focus();
    }
    if (word !== undefined) for (const one of form.querySelectorAll(`[name=word][value="${CSS.escape(word)}"]`)) {
      if (one.type !== "radio") { one.focus(); one.classList.add("shown-here"); } else if (one.nextElementSibling?.offsetParent) { one.checked = true; one.dispatchEvent(new Event("change", { bubbles: true })); }
    }
    if (heard !== undefined && form.elements.heard) { form.elements.heard.value = heard; form.elements.heard.closest("details")?.setAttribute("open", ""); }
    if (form.elements.unsteady) form.elements.unsteady.checked = unsteady !== undefined;
  }

  function unit(form, value) { // a figure with its unit stands as it is
    const of = form.elements.instrument?.selectedOptions?.[0]?.dataset.unit;
    return of && /^[\d.-]+$/.test(value) ? ` ${of}` : "";
  }

  async function read(key) {
    const form = key.closest("form");
    key.disabled = true;
    try {
      const answer = await fetch(`/jobs/${job}/meter`, { method: "POST", body: new URLSearchParams(new FormData(form)), signal: AbortSignal.timeout(20000) });
      const shown = await answer.json();
      say(form, shown.error || [shown.value && `${shown.value}${unit(form, shown.value)}`, shown.word?.replaceAll("_", " "), shown.heard && `it did: ${shown.heard.replaceAll("_", " ")}`, shown.unsteady && "jumps about"].filter(Boolean).join(", "), Boolean(shown.error));
      if (!shown.error) put(form, shown);
    } catch { say(form, "The stand-in does not answer: try again in a moment", true); } finally { key.disabled = false; }
  }

  function say(form, text, wrong) {
    const word = form.querySelector(".meter-word") || form.appendChild(Object.assign(document.createElement("p"), { className: "meter-word" }));
    word.setAttribute("role", wrong ? "alert" : "status");
    word.classList.toggle("wrong", wrong);
    word.textContent = wrong ? text : `The stand-in shows ${text}. Log it.`;
  }

  function hear({ heard, speed }) { // clicks of a relay, strokes of an engine that is turned
    const strokes = { click: [0], chatter: Array.from({ length: 14 }, (_, k) => k / 13), slow: [], cranks: [] }[heard];
    if (!strokes || !window.AudioContext) return;
    if (Number(speed)) for (let at = 0; at < 1.6; at += 0.16 / Number(speed)) strokes.push(at);
    const sound = new AudioContext(), now = sound.currentTime + 0.05;
    for (const at of strokes) {
      const tone = sound.createOscillator(), loud = sound.createGain();
      tone.type = "square";
      tone.frequency.value = Number(speed) ? 55 : 320;
      loud.gain.setValueAtTime(0.12, now + at);
      loud.gain.exponentialRampToValueAtTime(0.001, now + at + (Number(speed) ? 0.09 : 0.03));
      tone.connect(loud).connect(sound.destination);
      tone.start(now + at);
      tone.stop(now + at + 0.1);
    }
    setTimeout(() => sound.close(), 2500);
  }

  document.addEventListener("click", (event) => { const key = event.target.closest("[data-read]"); if (key) read(key); });
  document.addEventListener("htmx:afterSettle", (event) => {
    offer();
    const seen = event.target.closest?.(".cabin-panel")?.querySelector(".cabin-seen");
    if (seen && navigator.userActivation?.isActive) hear(seen.dataset);
  });
  offer();
})();
