"use strict";
// Meters at the foot of a job's pages: figures as they come, never one that is old; a key, or standing still, logs one into the step.
(() => {
  const job = document.body.dataset.liveJob, bar = document.getElementById("meters");
  if (!bar || !job || job === "0") return;
  const STALE_MS = 1500, STRIP = 300, CRANK_STANDS_S = 20; // a crank caught longer ago was at other leads
  const shown = new Map(); // by meter: its last message, when it came, its strip
  let needed = {}, cranking = new Set(), aim = null, placed = "", placedAt = Infinity; // when the stand-ins were where the page put them

  async function fetchBar() {
    try {
      const answer = await fetch(`/jobs/${job}/meters/bar`, { signal: AbortSignal.timeout(15000) });
      if (!answer.ok) return;
      bar.innerHTML = await answer.text();
      bar.hidden = !bar.querySelector("[data-meter]");
      document.body.classList.toggle("metered", !bar.hidden);
      ({ needed, cranking } = JSON.parse(bar.querySelector("[data-needed]")?.textContent || '{"needed": {}, "cranking": []}'));
      cranking = new Set(cranking);
      place();
    } catch { /* the link is away: the notice says so, and it is fetched when it is back */ }
  }

  // Where a figure goes: the field last gone into, else the page's first. A test of several figures says which of them a meter gives (data-takes).
  const FORM = "form[data-entry]:has([name=value], [data-takes])", TIMED_S = [3, 8, 15];
  const own = (form, one) => form.querySelector(`[data-takes^="${one.dataset.measured}"]`);
  const target = () => (aim?.isConnected ? aim : [...document.querySelectorAll(FORM)].find((f) => f.offsetParent));
  const wants = (form) => (form.elements.instrument ? needed[form.elements.instrument.value] : form.elements.way?.value === "drop" ? "dc_volts" : form.elements.way || form.elements.at?.value === "total" ? "amps" : undefined);
  const cranks = (form) => { const at = form.querySelector("[name=state]:checked") || form.elements.state; return (at?.dataset.cranking ?? at?.selectedOptions?.[0]?.dataset.cranking) !== undefined || cranking.has(at?.value); };
  const turns = () => { const { crankFrom, crankUntil } = bar.querySelector("[data-crank-from]").dataset, s = (performance.now() - placedAt) / 1000; return s > Number(crankFrom) + 0.8 && s < Number(crankUntil); };

  function figure(value, unit, step) {
    if (value === undefined || value === null) return "OL";
    const small = Math.abs(value) < { A: 1, V: step < 0.001 ? 0.6 : 0, "Ω": step < 0.001 ? 1 : 0 }[unit];
    const finest = Math.max(step, unit === "Ω" ? 0 : Math.abs(value) < 0.6 ? 1e-4 : Math.abs(value) < 6 ? 1e-3 : 1e-2); // the step is that of the newest figure
    const by = small ? 1000 : 1, decimals = Math.min(Math.max(0, -Math.floor(Math.log10(finest * by) + 1e-9)), 4);
    return `${(value * by).toFixed(decimals)} ${small ? "m" : ""}${unit}`;
  }

  const spoken = (text) => (document.documentElement.lang === "de" ? text.replace(/(\d)\.(?=\d)/g, "$1,") : text);
  const write = (one, part, text) => { const at = one.querySelector(part); if (at.textContent !== text) at.textContent = text; }; // said aloud only when it changes

  function show(told) {
    const one = bar.querySelector(`[data-meter="${CSS.escape(told.meter)}"]`);
    if (!one) return;
    const kept = shown.get(told.meter) || { strip: [] };
    shown.set(told.meter, kept);
    kept.at = performance.now();
    kept.told = told;
    if (told.lost) { dark(one, told.lost); return; }
    const { unit } = one.dataset, step = told.step ?? 0.001, values = told.values || [], last = values[values.length - 1];
    kept.text = figure(last, unit, step);
    kept.strip.push(...values);
    kept.strip.splice(0, Math.max(0, kept.strip.length - STRIP));
    one.classList.remove("stale");
    write(one, "[data-figure]", spoken(kept.text));
    const caught = told.caught;
    write(one, "[data-word]", caught?.runs ? `${unit === "A" ? "draws" : "pulled"} for ${(caught.lasted_s ?? 0).toFixed(0)} s` : told.held !== undefined ? "steady" : "moves");
    write(one, "[data-range]", spoken([
      told.least !== undefined && `${figure(told.least, unit, step)} to ${figure(told.greatest, unit, step)}`,
      caught?.mean !== undefined && `last crank or load: mean ${figure(caught.mean, unit, step)}, at most ${figure(caught.far, unit, step)} in ${(caught.lasted_s ?? 0).toFixed(0)} s`,
    ].filter(Boolean).join("; ")));
    draw(one.querySelector("[data-strip]"), kept.strip, step);
    byTime(one, kept, told);
    if (kept.pending) log(one); else bySteadiness(one, kept, told);
  }

  function dark(one, word) {
    one.classList.add("stale");
    write(one, "[data-figure]", "—");
    write(one, "[data-word]", word);
    const kept = shown.get(one.dataset.meter);
    if (kept) kept.text = undefined;
  }

  setInterval(() => { // a figure that is not followed by another is gone, whatever is wrong
    for (const one of bar.querySelectorAll("[data-meter]")) {
      const kept = shown.get(one.dataset.meter);
      if (kept && !kept.told.lost && performance.now() - kept.at > STALE_MS) dark(one, "no news from it");
    }
  }, 500);

  function draw(canvas, values, step) { // at least twenty last digits high: what only flickers is drawn flat
    const pen = canvas?.getContext("2d"), known = values.filter((v) => v !== null);
    if (!pen || known.length < 2) return;
    const least = Math.min(...known), span = Math.max(Math.max(...known) - least, 20 * step), low = (least + Math.max(...known) - span) / 2, { width, height } = canvas;
    pen.clearRect(0, 0, width, height);
    pen.strokeStyle = getComputedStyle(canvas).color;
    pen.lineWidth = 1.5;
    pen.beginPath();
    values.forEach((v, k) => { if (v !== null) pen.lineTo((k * width) / STRIP, height - 4 - ((v - low) / span) * (height - 8)); });
    pen.stroke();
  }

  // Logging: the figure with its unit into the step's field, with the meter's name; a meter set to something else is told so.
  function log(one) {
    const form = target(), kept = shown.get(one.dataset.meter);
    say(one, "");
    if (!form) { say(one, "No field on this page takes a figure: open the step"); return; }
    if (kept?.text === undefined) { say(one, "Nothing to log: it shows nothing now"); return; }
    if (!form.elements.value) { give(one, form, kept); return; }
    const wanted = wants(form), caught = kept.told.caught;
    if (wanted && wanted !== one.dataset.measured) { offer(one, wanted); return; }
    const cranked = caught?.mean !== undefined && cranks(form) && (caught.runs || ((caught.ago_s ?? 0) < CRANK_STANDS_S && caught.mean !== kept.used));
    kept.pending = one.dataset.standIn !== undefined && cranks(form) && !cranked && !turns();
    if (kept.pending) { // logged as soon as the key has been held for a moment
      say(one, "The helper holds the key: it is logged as soon as it turns");
      if ((performance.now() - placedAt) / 1000 > Number(bar.querySelector("[data-crank-from]").dataset.crankUntil)) { placed = ""; place(); }
      return;
    }
    const text = cranked ? figure(caught.mean, one.dataset.unit, kept.told.step ?? 0.001) : kept.text;
    put(form, "meter", one.dataset.name);
    put(form, "meter_on", one.dataset.measured);
    const fields = form.elements.value instanceof RadioNodeList ? [...form.elements.value] : [form.elements.value];
    const field = fields.find((f) => f.offsetParent) || fields[0];
    field.value = text;
    field.dispatchEvent(new Event("input", { bubbles: true }));
    form.requestSubmit();
    kept.logged = kept.told.held;
    kept.used = cranked ? caught.mean : undefined;
  }

  function give(one, form, kept) { // one figure of several: the others are still to come
    const field = own(form, one), caught = kept.told.caught;
    if (!field) { say(one, "This test takes no such figure"); return; }
    if (field.dataset.takes.endsWith("timed")) { say(one, "Put the load on: 3, 8 and 15 s are written down by themselves"); return; }
    if (field.dataset.takes.endsWith("caught") && caught?.mean === undefined) { say(one, "Crank: its mean is taken while it turns"); return; }
    field.value = field.dataset.takes.endsWith("caught") ? figure(caught.mean, one.dataset.unit, kept.told.step ?? 0.001) : kept.text;
    field.dispatchEvent(new Event("input", { bubbles: true }));
    put(form, "meter", one.dataset.name);
    field.focus();
  }

  function byTime(one, kept, told) { // a load test times itself, from the moment the volts fall
    const form = target(), field = form && !form.elements.value && own(form, one), caught = told.caught;
    if (!field || !field.dataset.takes.endsWith("timed") || !caught?.runs || kept.text === undefined) return;
    const due = TIMED_S.filter((s) => (caught.lasted_s ?? 0) >= s && !field.value.split("\n").some((line) => line.startsWith(`${s} `)));
    for (const s of due) field.value = `${field.value.trim()}\n${s} ${kept.text.replace(" V", "")}`.trim();
    if (due.length) { field.dispatchEvent(new Event("input", { bubbles: true })); put(form, "meter", one.dataset.name); }
    say(one, (caught.lasted_s ?? 0) < 15 ? `load on for ${(caught.lasted_s ?? 0).toFixed(0)} s, of 15` : "15 s: take the load off");
  }

  function put(form, name, value) {
    const field = form.elements[name] || form.appendChild(Object.assign(document.createElement("input"), { type: "hidden", name }));
    field.value = value;
  }

  function say(one, text) { write(one, "[data-note]", text); } // stands until the next key, whatever the figure does

  function offer(one, wanted) {
    const names = { dc_volts: "volts DC", ac_volts: "volts AC", ohms: "ohms", amps: "amps" };
    const can = one.dataset.measures.split(" ").includes(wanted);
    say(one, `It is on ${names[one.dataset.measured]}; the step wants ${names[wanted]}${can ? "" : ", which it cannot measure"}. `);
    if (!can) return;
    const key = Object.assign(document.createElement("button"), { type: "button", className: "button small", textContent: `Set it to ${names[wanted]}` });
    one.querySelector("[data-note]").append(key);
    key.addEventListener("click", () => {
      const form = one.querySelector("[data-meter-do]"), fields = new URLSearchParams({ do: "set", measured: wanted, form_token: form.elements.form_token.value });
      send(one, form.action, fields);
    });
  }

  function bySteadiness(one, kept, told) {
    if (told.held === undefined) { kept.logged = undefined; return; }
    const itself = one.querySelector("[data-steady]").checked && kept.logged === undefined && target();
    if (itself && (wants(itself) ?? one.dataset.measured) === one.dataset.measured && Math.abs(told.held) > 3 * (told.step ?? 0.001)) log(one);
    kept.logged ??= told.held;
  }

  // The stand-ins of a practice job: their leads are where the field says.
  function place() {
    const form = target();
    if (!form || !bar.querySelector("[data-stand-in]")) return;
    const fields = new URLSearchParams(new FormData(form));
    for (const own of ["entry_id", "value", "meter", "meter_on", "word"]) fields.delete(own);
    const now = fields.toString();
    if (now === placed) return;
    placed = now;
    placedAt = Infinity;
    fetch(`/jobs/${job}/meters/placed`, { method: "POST", body: fields, signal: AbortSignal.timeout(15000) }).catch(() => { placed = ""; });
  }

  document.addEventListener("meter", ({ detail }) => {
    if (detail.begins) placedAt = performance.now();
    else if (detail.meter) show(detail);
    else fetchBar();
  });
  document.addEventListener("focusin", ({ target: at }) => { const form = at.closest?.(FORM); if (form && form !== aim) { aim = form; place(); } });
  document.addEventListener("change", ({ target: at }) => { if (at.closest?.(FORM)) { aim = at.closest(FORM); place(); } });
  document.addEventListener("htmx:afterSettle", () => { placed = ""; place(); });
  document.addEventListener("input", ({ target: at, isTrusted }) => { // typed over: the figure is not the meter's any more
    if (isTrusted && at.name === "value" && at.form?.elements.meter) { at.form.elements.meter.value = ""; at.form.elements.meter_on.value = ""; }
  });
  bar.addEventListener("click", ({ target: at }) => { const key = at.closest("[data-log]"); if (key) log(key.closest("[data-meter]")); });
  bar.addEventListener("submit", (event) => {
    const form = event.target.closest("[data-meter-do]");
    if (!form) return;
    event.preventDefault();
    const one = form.closest("[data-meter]"), values = shown.get(one.dataset.meter)?.told?.values;
    if (form.elements.shown) form.elements.shown.value = values?.at(-1) ?? "";
    send(one, form.action, new URLSearchParams(new FormData(form)));
  });

  function send(one, action, fields) {
    fetch(action, { method: "POST", body: fields, headers: { Accept: "application/json" }, signal: AbortSignal.timeout(15000) })
      .then(async (answer) => { if (!answer.ok) say(one, (await answer.json().catch(() => ({}))).error || "It was not set: try again"); })
      .catch(() => say(one, "It was not set: no answer from the app"));
  }
})();
