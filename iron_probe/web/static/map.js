"use strict";
// The Bench by hand and key: place leads on the map, pan, zoom, type on the pad. Everything it does also works with the form alone.
(() => {
  const bench = () => document.getElementById("bench");
  if (!bench()) return;
  const form = () => document.getElementById("field");
  const map = () => document.getElementById("map");
  let seen = null; // the part of the map in sight, kept while parts of the page are swapped
  let nextLead = null;

  const listed = () => [...document.getElementById("point-list").options];
  const lead = (name) => { // a lead's field says a point's title; its value here is the point
    const field = form().elements[name];
    return {
      get value() { return listed().find((o) => o.value === field.value)?.dataset.id ?? field.value; },
      set value(id) { field.value = listed().find((o) => o.dataset.id === id)?.value ?? id; },
    };
  };
  const checked = (name) => form().querySelector(`input[name=${name}]:checked`);

  const pointsOf = (id) => [...map().querySelectorAll("[data-point]")].filter((p) => p.dataset.point === id);

  const AWAY_FROM_HOME = 150; // a point drawn again is taken for its home where that is so much nearer to the other lead
  function spots() { // where the leads stand, of all places their points are drawn in: the two that lie nearest to each other
    const reds = pointsOf(lead("red").value), blacks = pointsOf(lead("black").value);
    const far = (r, b) => (r && b ? Math.abs(r.dataset.x - b.dataset.x) + Math.abs(r.dataset.y - b.dataset.y) : 0) + [r, b].filter((p) => p?.classList.contains("again")).length * AWAY_FROM_HOME;
    let best = [reds[0], blacks[0]];
    for (const r of reds.length ? reds : [undefined]) for (const b of blacks.length ? blacks : [undefined]) if (far(r, b) < far(...best)) best = [r, b];
    return { red: best[0], black: best[1] };
  }

  function showLeads() {
    const standing = spots();
    const at = { red: lead("red").value, black: lead("black").value };
    for (const point of map().querySelectorAll("[data-point]")) for (const name of ["red", "black"]) point.classList.toggle(`has-${name}`, point.dataset.point === at[name]);
    for (const name of ["red", "black"]) {
      const flag = map().querySelector(`[data-flag=${name}]`), spot = standing[name];
      if (spot) { flag.setAttribute("transform", `translate(${spot.dataset.x} ${spot.dataset.y})`); flag.removeAttribute("display"); }
      else flag.setAttribute("display", "none");
    }
    showState();
    showWay();
    showConfirmed();
  }

  function under(lines, kind, width) { // lines of the map drawn once more, broad, beneath it
    for (const line of lines) {
      const broad = line.cloneNode();
      broad.setAttribute("class", kind);
      if (width) broad.style.strokeWidth = width;
      document.getElementById("under").append(broad);
    }
  }

  function showConfirmed() { // parts that were measured at themselves are told from those assumed as drawn
    for (const part of map().dataset.confirmed.split(" ")) if (part) for (const branch of map().querySelectorAll(`[data-element="${CSS.escape(part)}"]`)) branch.classList.add("confirmed");
  }

  function showWay() { // the way from lead to lead, and how heavily each part is suspected
    document.getElementById("under").replaceChildren();
    for (const branch of document.getElementById("probe").dataset.way?.split(" ") ?? []) if (branch) under(map().querySelectorAll(`[data-branch="${CSS.escape(branch)}"] polyline`), "way");
    for (const suspect of document.querySelectorAll("[data-suspect]")) under(map().querySelectorAll(`[data-element="${CSS.escape(suspect.dataset.suspect)}"] polyline`), "suspicion", 12 + 30 * suspect.dataset.share);
  }

  function drawAnew(changes) { // the map folded otherwise, or with figures: what is typed stays
    for (const [name, value] of Object.entries(changes)) form().elements[name].value = value;
    const query = new URLSearchParams();
    for (const name of ["red", "black", "open", "volts"]) query.set(name, form().elements[name].value);
    query.set("state", checked("state").value);
    htmx.ajax("GET", `/jobs/${bench().dataset.job}/map?${query}`, { target: "#plate", swap: "innerHTML" });
  }

  function showState() { // a row of states that runs off a small screen is moved until the chosen one is seen
    const chosen = checked("state")?.closest("label"), row = chosen?.parentElement;
    if (!row) return;
    const at = chosen.getBoundingClientRect(), seen = row.getBoundingClientRect();
    if (at.right > seen.right) row.scrollLeft += at.right - seen.right;
    else if (at.left < seen.left) row.scrollLeft -= seen.left - at.left;
  }

  function ask(itself = "") { // the part both probes are on itself, where the next test says so
    showLeads();
    const query = new URLSearchParams();
    for (const name of ["red", "black", "branch"]) query.set(name, form().elements[name].value);
    query.set("state", checked("state").value);
    query.set("instrument", form().elements.instrument.value);
    query.set("itself", itself);
    const probe = document.getElementById("probe");
    probe.querySelector("[name=itself]")?.remove(); // a figure typed before the answer is there goes where the leads are now
    if (itself) probe.append(Object.assign(document.createElement("input"), { type: "hidden", name: "itself", value: itself }));
    htmx.ajax("GET", `/jobs/${bench().dataset.job}/probe?${query}`, { target: "#probe", swap: "outerHTML" });
    const hidden = ["red", "black"].some((name) => lead(name).value && !pointsOf(lead(name).value).length);
    if (hidden || form().elements.volts.value) drawAnew({}); // a point in a folded track; figures of another state
  }

  async function adviseAlone() { // no link: what a sound machine shows here, from what the device keeps; no band, no verdict
    const red = lead("red").value, black = lead("black").value, instrument = form().elements.instrument.value;
    const kept = await fetch(`/jobs/${bench().dataset.job}/good`).then((answer) => answer.json(), () => null), volts = kept?.[checked("state").value];
    const probe = document.getElementById("probe"), known = volts && instrument === "voltmeter" && volts[red] != null && volts[black] != null && red !== black;
    const word = Object.assign(document.createElement("p"), { className: "good" });
    if (known) word.append("good ", Object.assign(document.createElement("b"), { textContent: `${(volts[red] - volts[black]).toFixed(2)} V` }), " on a sound machine; no link, so without its band");
    else word.textContent = "No link: nothing can be said of this place until it is back.";
    probe.replaceChildren(word);
    probe.dataset.way = "";
    showWay();
  }
  document.addEventListener("htmx:sendError", (event) => { if (/\/probe\?/.test(event.detail.pathInfo.requestPath)) adviseAlone(); });

  function place(name, id) {
    lead(name).value = id;
    nextLead = name === "red" ? "black" : "red";
    ask();
  }

  function tap(id) {
    if (!nextLead) nextLead = lead("red").value && !lead("black").value ? "black" : "red";
    if (nextLead === "red") lead("black").value = lead("black").value === id ? "" : lead("black").value;
    place(nextLead, id);
    if (nextLead === "red") { focusField(); if (bench().dataset.view === "map") setTimeout(() => look("field"), 350); } // both leads are placed: back to the field
  }

  function focusField() { // the figure, or the first word where the instrument is answered with one
    if (!matchMedia("(min-width: 900px)").matches) return;
    const words = [...form().querySelectorAll("input[name=word]")].filter((w) => w.parentElement.offsetParent);
    const field = form().elements.value.offsetParent ? form().elements.value : words.find((w) => w.checked) || words[0];
    field?.focus({ preventScroll: true });
  }

  function nextState() {
    const all = [...form().querySelectorAll("input[name=state]")];
    all[(all.indexOf(checked("state")) + 1) % all.length].checked = true;
    ask();
  }
  function nextInstrument() {
    const choice = form().elements.instrument;
    choice.selectedIndex = (choice.selectedIndex + 1) % choice.length;
    ask();
  }

  // pan and zoom by the viewBox
  const home = () => map().dataset.home.split(" ").map(Number);
  const SMALLEST = 0.72, LARGEST = 1.25; // the plate is read at this size at least; a small one is not blown up
  function nearLeads() { // the whole of it where that can be read, else as high as the screen, the leads in the middle
    const [x, y, w, h] = home(), wide = map().clientWidth, high = map().clientHeight;
    const scale = Math.min(Math.max(high / h, SMALLEST), wide < 700 ? 1 : LARGEST); // on a phone rather one more point than larger ones
    if (w * scale <= wide) return [x - (wide / scale - w) / 2, y - (high / scale - h) / 2, wide / scale, high / scale];
    const at = Object.values(spots()).filter(Boolean).map((p) => [+p.dataset.x, +p.dataset.y]);
    const xs = at.map((p) => p[0]), ys = at.map((p) => p[1]), left = at.length ? Math.min(...xs) : x, right = at.length ? Math.max(...xs) : x;
    const width = Math.max(wide / scale, right - left + 260), height = width * high / wide;
    const cx = (left + right) / 2, cy = at.length ? (Math.min(...ys) + Math.max(...ys)) / 2 : y;
    return [Math.min(Math.max(cx - width / 2, x), Math.max(x, x + w - width)), height >= h ? y - (height - h) / 2 : Math.min(Math.max(cy - height / 2, y), y + h - height), width, height];
  }
  function inView() { // the next step's leads, wherever the map was moved to
    const [x, y, w, h] = seen || home();
    const out = Object.values(spots()).some((p) => p && (p.dataset.x < x + 20 || p.dataset.x > x + w - 20 || p.dataset.y < y || p.dataset.y > y + h));
    if (out) { seen = nearLeads(); apply(); }
  }
  const apply = () => map().setAttribute("viewBox", (seen || home()).join(" "));
  function zoom(factor, at) {
    const [x, y, w, h] = seen || home(), [, , hw] = home();
    const width = Math.min(Math.max(w * factor, hw / 14), hw * 1.2), k = width / w;
    const cx = at ? at.x : x + w / 2, cy = at ? at.y : y + h / 2;
    seen = [cx - (cx - x) * k, cy - (cy - y) * k, width, h * k];
    apply();
  }
  const toMap = (event) => {
    const p = new DOMPoint(event.clientX, event.clientY).matrixTransform(map().getScreenCTM().inverse());
    return { x: p.x, y: p.y };
  };

  const fingers = new Map();
  let moved = 0, apart = 0;
  document.addEventListener("pointerdown", (event) => {
    if (!event.target.closest("#map")) return;
    fingers.set(event.pointerId, event);
    moved = 0;
  });
  document.addEventListener("pointermove", (event) => {
    const before = fingers.get(event.pointerId);
    if (!before) return;
    const dx = event.clientX - before.clientX, dy = event.clientY - before.clientY;
    fingers.set(event.pointerId, event);
    moved += Math.abs(dx) + Math.abs(dy);
    if (moved < 6) return;
    if (fingers.size === 2) {
      const [a, b] = [...fingers.values()];
      const now = Math.hypot(a.clientX - b.clientX, a.clientY - b.clientY);
      if (apart) zoom(apart / now, toMap({ clientX: (a.clientX + b.clientX) / 2, clientY: (a.clientY + b.clientY) / 2 }));
      apart = now;
      return;
    }
    const scale = map().getScreenCTM().a, [x, y, w, h] = seen || home();
    seen = [x - dx / scale, y - dy / scale, w, h];
    apply();
  });
  for (const end of ["pointerup", "pointercancel"]) document.addEventListener(end, (event) => { fingers.delete(event.pointerId); apart = 0; });
  document.addEventListener("wheel", (event) => {
    if (!event.target.closest("#map")) return;
    event.preventDefault();
    zoom(event.deltaY > 0 ? 1.15 : 1 / 1.15, toMap(event));
  }, { passive: false });

  function look(view) { // on a small screen one part of the Bench is shown at a time
    bench().dataset.view = view;
    for (const way of bench().querySelectorAll(".views a")) if (way.dataset.view === view) way.setAttribute("aria-current", "true"); else way.removeAttribute("aria-current");
    if (view === "map") { seen = nearLeads(); apply(); }
  }

  document.addEventListener("click", (event) => {
    const way = event.target.closest(".views a");
    if (way) { event.preventDefault(); look(way.dataset.view); return; }
    const point = event.target.closest("[data-point]"), by = event.target.closest("[data-zoom]");
    const stub = event.target.closest("[data-stub]"), figures = event.target.closest("[data-map-volts]"), every = event.target.closest("[data-map-open]");
    const next = event.target.closest("a[data-instrument]"), key = event.target.closest("[data-pad]");
    if (point) { event.preventDefault(); if (moved < 6) tap(point.dataset.point); }
    if (stub) { event.preventDefault(); if (moved < 6) drawAnew({ open: `${form().elements.open.value},${stub.dataset.stub}` }); }
    if (figures) { event.preventDefault(); drawAnew({ volts: form().elements.volts.value ? "" : "1" }); }
    if (every) { event.preventDefault(); drawAnew({ open: form().elements.open.value === "all" ? "" : "all" }); }
    if (by) { if (by.dataset.zoom === "home") { seen = home(); apply(); } else zoom(by.dataset.zoom === "in" ? 0.75 : 1.33); }
    if (next) {
      event.preventDefault();
      lead("red").value = next.dataset.red;
      lead("black").value = next.dataset.black;
      const state = form().querySelector(`input[name=state][value="${CSS.escape(next.dataset.state)}"]`);
      if (state) state.checked = true;
      form().elements.instrument.value = next.dataset.instrument;
      if (next.dataset.branch) form().elements.branch.value = next.dataset.branch;
      ask(next.dataset.itself);
      inView();
      focusField();
    }
    if (key) {
      const value = form().elements.value, k = key.dataset.pad;
      const bare = value.value.replace(/ ?[a-zµΩ]+$/i, "");
      value.value = k === "back" ? (bare === value.value ? bare.slice(0, -1) : bare) : k === "OL" ? "OL" : /[a-zΩ]/i.test(k) ? `${bare} ${k}` : bare === "OL" ? k : bare + k;
      value.dispatchEvent(new Event("input", { bubbles: true }));
    }
  });

  document.addEventListener("change", (event) => {
    if (event.target.closest("#field") && event.target.matches("[data-lead], [name=state], [name=instrument], [name=branch]")) ask();
  });

  const arrows = { ArrowRight: [1, 0], ArrowLeft: [-1, 0], ArrowDown: [0, 1], ArrowUp: [0, -1] };
  function walk([dx, dy]) {
    const all = [...map().querySelectorAll("[data-point]")];
    const here = document.activeElement.closest("[data-point]") || all.find((p) => p.classList.contains("has-red")) || all[0];
    const x = +here.dataset.x, y = +here.dataset.y;
    let best = null, least = Infinity;
    for (const p of all) {
      const ex = +p.dataset.x - x, ey = +p.dataset.y - y, along = ex * dx + ey * dy, aside = Math.abs(ex * dy) + Math.abs(ey * dx);
      if (p !== here && along > 1 && along + 2.5 * aside < least) { least = along + 2.5 * aside; best = p; }
    }
    if (best) best.focus();
  }
  document.addEventListener("keydown", (event) => {
    const el = event.target;
    if (event.ctrlKey || event.metaKey || event.altKey || el.matches("textarea, select, input:not([type=radio]):not([type=checkbox])")) return;
    const point = el.closest("[data-point]");
    if (arrows[event.key] && !el.matches("input")) { event.preventDefault(); walk(arrows[event.key]); }
    else if (event.key === "r" && point) place("red", point.dataset.point);
    else if (event.key === "b" && point) place("black", point.dataset.point);
    else if (event.key === "x") { const [r, b] = [lead("red").value, lead("black").value]; lead("red").value = b; lead("black").value = r; ask(); }
    else if (event.key === "s") nextState();
    else if (event.key === "i") nextInstrument();
    else if (/^[\d.,<>−-]$/.test(event.key) && event.key !== "-" && event.key !== "0" && form().elements.value.offsetParent) form().elements.value.focus();
    else if (event.key === "v") { event.preventDefault(); form().elements.value.focus(); }
    else if (event.key === "+" || event.key === "=") zoom(0.8);
    else if (event.key === "-") zoom(1.25);
    else if (event.key === "0") { seen = home(); apply(); }
    else if (event.key === "Enter" && el.matches("input[type=radio]")) form().requestSubmit();
  });

  document.addEventListener("htmx:afterSettle", (event) => {
    if (event.target.id === "plate" || event.target.id === "bench") form().elements.open.value = map().dataset.open;
    if (event.target.id === "plate") { apply(); showLeads(); }
    if (event.target.id === "probe" || event.target.id === "suspects") showWay();
    if (event.target.id === "bench") { nextLead = null; apply(); showLeads(); inView(); if (!document.querySelector("[data-sure]")) focusField(); }
  });
  showLeads();
  seen = nearLeads();
  apply();
})();
