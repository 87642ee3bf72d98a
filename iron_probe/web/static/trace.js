"use strict";
// The trace: least and greatest by column from the server, drawn in lanes; zoom to a sample, two cursors with differences.
(() => {
  const root = document.querySelector(".trace");
  const canvas = root.querySelector("canvas"), pen = canvas.getContext("2d"), out = root.querySelector("output");
  const given = (name) => JSON.parse(root.dataset[name]);
  const count = +root.dataset.count, step = +root.dataset.step, start = +root.dataset.start;
  const names = given("channels"), units = given("units"), ranges = given("ranges"), marks = given("features");
  const colour = (name) => getComputedStyle(document.documentElement).getPropertyValue(name).trim();
  const INK = colour("--color-ink"), HERE = colour("--color-here"), OVER = colour("--color-over"), HAIR = colour("--color-hair"), PAPER = colour("--color-paper");
  const LEFT = 62, RIGHT = 14, TOP = 30, BOTTOM = 26, GAP = 14;
  let first = 0, last = count, shown = null, asked = 0, timer = 0, width = 0, height = 0;
  const cursor = { a: null, b: null };
  let chosen = "a";

  const time = (sample) => start + sample * step;
  const x = (sample) => LEFT + (sample - first) / (last - first) * (width - LEFT - RIGHT);
  const sampleAt = (px) => first + (px - LEFT) / (width - LEFT - RIGHT) * (last - first);
  const clamp = (v, low, high) => Math.min(Math.max(v, low), high);
  const lane = (k) => { const h = (height - TOP - BOTTOM - GAP * (names.length - 1)) / names.length; return [TOP + k * (h + GAP), h]; };
  const bounds = ranges.map(([low, high]) => { const room = (high - low || 1) * .06; return [low - room, high + room]; });
  const y = (k, v) => { const [top, h] = lane(k), [low, high] = bounds[k]; return top + h - (v - low) / (high - low) * h; };
  const nice = (span, n) => { const raw = span / n, p = 10 ** Math.floor(Math.log10(raw)), m = raw / p; return (m < 1.5 ? 1 : m < 3.5 ? 2 : m < 7.5 ? 5 : 10) * p; };
  const digits = (s) => Math.max(0, -Math.floor(Math.log10(s) + 1e-9));

  function size() {
    const box = canvas.getBoundingClientRect(), dpr = window.devicePixelRatio || 1;
    width = box.width; height = box.height;
    canvas.width = width * dpr; canvas.height = height * dpr;
    pen.setTransform(dpr, 0, 0, dpr, 0, 0);
  }

  function ask(now) {
    clearTimeout(timer);
    timer = setTimeout(async () => {
      const mine = ++asked;
      const url = `${root.dataset.view}?first=${Math.floor(first)}&last=${Math.ceil(last)}&width=${Math.round(width - LEFT - RIGHT)}`;
      try {
        const answer = await fetch(url);
        if (!answer.ok) throw new Error(String(answer.status));
        const body = await answer.json();
        if (mine === asked) { shown = body; draw(); root.dataset.shown = String(mine); document.getElementById("offline").hidden = true; }
      } catch { document.getElementById("offline").hidden = false; }
    }, now ? 0 : 60);
  }

  function axis() {
    const long = time(last) - time(first) > 7200, per = long ? 3600 : 1, unit = long ? "h" : "s";
    const t0 = time(first) / per, t1 = time(last) / per, s = nice(t1 - t0, width / 110), d = digits(s);
    pen.font = "13px 'IBM Plex Sans', sans-serif"; pen.textAlign = "center"; pen.fillStyle = INK; pen.strokeStyle = HAIR; pen.lineWidth = 1;
    for (let t = Math.ceil(t0 / s) * s; t <= t1; t += s) {
      const px = x((t * per - start) / step);
      pen.beginPath(); pen.moveTo(px, TOP); pen.lineTo(px, height - BOTTOM); pen.stroke();
      pen.fillText(`${t.toFixed(d)} ${unit}`, px, height - 8);
    }
    names.forEach((name, k) => {
      const [top, h] = lane(k), [low, high] = bounds[k], g = nice(high - low, h / 45), gd = digits(g);
      pen.textAlign = "right"; pen.fillStyle = INK;
      for (let v = Math.ceil(low / g) * g; v <= high; v += g) {
        pen.strokeStyle = HAIR; pen.beginPath(); pen.moveTo(LEFT, y(k, v)); pen.lineTo(width - RIGHT, y(k, v)); pen.stroke();
        pen.fillText(v.toFixed(gd), LEFT - 7, y(k, v) + 4);
      }
      pen.strokeStyle = INK; pen.lineWidth = 2; pen.strokeRect(LEFT, top, width - LEFT - RIGHT, h); pen.lineWidth = 1;
      pen.textAlign = "left"; pen.font = "600 15px 'Barlow Condensed', sans-serif"; pen.fillText(`${name}${units[k] ? `, ${units[k]}` : ""}`, LEFT + 8, top + 17); pen.font = "13px 'IBM Plex Sans', sans-serif";
    });
  }

  function channel(k, low, high) {
    const [top, h] = lane(k);
    pen.save(); pen.beginPath(); pen.rect(LEFT, top, width - LEFT - RIGHT, h); pen.clip();
    pen.strokeStyle = INK; pen.lineWidth = high ? 1 : 1.6; pen.beginPath();
    const at = (j) => x(shown.first + (j + (high ? .5 : 0)) * shown.per_column);
    low.forEach((v, j) => { if (high) { pen.moveTo(at(j), y(k, v) + .5); pen.lineTo(at(j), y(k, high[j]) - .5); } });
    low.forEach((v, j) => { const m = high ? (v + high[j]) / 2 : v; if (j) pen.lineTo(at(j), y(k, m)); else pen.moveTo(at(j), y(k, m)); });
    pen.stroke();
    if (!high && low.length < 200) { pen.fillStyle = INK; low.forEach((v, j) => pen.fillRect(at(j) - 2, y(k, v) - 2, 4, 4)); }
    pen.restore();
  }

  function found() {
    pen.font = "700 13px 'IBM Plex Sans', sans-serif"; pen.textAlign = "center";
    let busy = -100;
    marks.map((m, n) => [x((m.start_s - start) / step), x((m.end_s - start) / step), n, m]).sort((p, q) => p[0] - q[0]).forEach(([from, to, n, m]) => {
      if (to < LEFT || from > width - RIGHT) return;
      const bad = m.name === "dropout" || m.name === "hash", left = clamp(from, LEFT, width - RIGHT), right = clamp(to, LEFT, width - RIGHT);
      pen.strokeStyle = pen.fillStyle = bad ? OVER : HERE; pen.lineWidth = 2;
      pen.beginPath(); pen.moveTo(left, TOP - 4); pen.lineTo(right, TOP - 4); pen.stroke();
      if (right - left < 8 || bad) { pen.setLineDash([3, 4]); pen.beginPath(); pen.moveTo(left, TOP); pen.lineTo(left, height - BOTTOM); pen.stroke(); pen.setLineDash([]); }
      const px = Math.max(left + 8, busy + 20); busy = px;
      pen.beginPath(); pen.arc(px, 13, 9, 0, 7); pen.fill(); pen.fillStyle = "#fff"; pen.fillText(String(n + 1), px, 17.5);
    });
  }

  function valueAt(k, sample) {
    if (!shown) return null;
    const j = Math.floor((sample - shown.first) / shown.per_column), c = shown.channels[k];
    if (j < 0 || j >= c.low.length) return null;
    return c.high ? (c.low[j] + c.high[j]) / 2 : c.low[j];
  }

  function cursors() {
    const told = [];
    for (const [name, c] of Object.entries(cursor)) {
      if (!c) continue;
      names.forEach((_, k) => { const v = valueAt(k, c.sample); if (v !== null) c.values[k] = v; });
      const px = x(c.sample);
      if (px >= LEFT && px <= width - RIGHT) {
        pen.strokeStyle = HERE; pen.lineWidth = 2; pen.beginPath(); pen.moveTo(px, TOP); pen.lineTo(px, height - BOTTOM); pen.stroke();
        pen.fillStyle = HERE; pen.fillRect(px - 9, height - BOTTOM, 18, 18); pen.fillStyle = "#fff"; pen.textAlign = "center"; pen.fillText(name.toUpperCase(), px, height - BOTTOM + 14);
      }
      told.push(`${name.toUpperCase()} ${time(c.sample).toFixed(4)} s` + names.map((_, k) => c.values[k] === undefined ? "" : `, ${c.values[k].toFixed(2)} ${units[k]}`).join(""));
    }
    if (cursor.a && cursor.b) {
      const dt = (cursor.b.sample - cursor.a.sample) * step;
      told.push(`B − A ${dt.toFixed(4)} s` + (dt ? ` (${Math.abs(1 / dt).toFixed(2)} Hz)` : "") + names.map((_, k) => cursor.a.values[k] === undefined || cursor.b.values[k] === undefined ? "" : `, ${(cursor.b.values[k] - cursor.a.values[k]).toFixed(2)} ${units[k]}`).join(""));
    }
    out.textContent = told.join("   ");
  }

  function draw() {
    pen.fillStyle = PAPER; pen.fillRect(0, 0, width, height);
    axis();
    if (shown) shown.channels.forEach((c, k) => channel(k, c.low, c.high));
    found(); cursors();
  }

  function look(from, to) {
    const span = clamp(to - from, Math.min(8, count), count);
    from = clamp(from, 0, count - span);
    first = from; last = from + span;
    draw(); ask();
  }
  const zoom = (factor, at) => { const s = at ?? (first + last) / 2; look(s - (s - first) * factor, s + (last - s) * factor); };
  const put = (name, sample) => { cursor[name] = { sample: clamp(Math.round(sample), 0, count - 1), values: [] }; const t = document.querySelector("input[name=trigger]"); if (name === "a" && t) t.value = time(cursor.a.sample).toFixed(3); draw(); };

  canvas.addEventListener("wheel", (e) => { e.preventDefault(); zoom(e.deltaY > 0 ? 1.35 : 1 / 1.35, sampleAt(e.offsetX)); }, { passive: false });
  const down = new Map();
  let moved = 0;
  canvas.addEventListener("pointerdown", (e) => { canvas.setPointerCapture(e.pointerId); down.set(e.pointerId, e.offsetX); moved = 0; });
  canvas.addEventListener("pointermove", (e) => {
    if (!down.has(e.pointerId)) return;
    const was = down.get(e.pointerId), per = (last - first) / (width - LEFT - RIGHT);
    if (down.size === 2) {
      const other = [...down].find(([id]) => id !== e.pointerId)[1];
      if (Math.abs(e.offsetX - other) > 10) zoom(Math.abs(was - other) / Math.abs(e.offsetX - other), sampleAt(other));
    } else look(first - (e.offsetX - was) * per, last - (e.offsetX - was) * per);
    moved += Math.abs(e.offsetX - was);
    down.set(e.pointerId, e.offsetX);
  });
  const up = (e) => { if (down.delete(e.pointerId) && moved < 5 && e.type === "pointerup") put(chosen, sampleAt(e.offsetX)); };
  canvas.addEventListener("pointerup", up); canvas.addEventListener("pointercancel", up);

  const choose = (name) => { chosen = name; root.querySelectorAll("[data-cursor]").forEach((b) => b.setAttribute("aria-pressed", String(b.dataset.cursor === name))); };
  document.addEventListener("click", (e) => {
    const z = e.target.closest("[data-zoom]"), c = e.target.closest("[data-cursor]"), f = e.target.closest("[data-from]");
    if (z) z.dataset.zoom === "all" ? look(0, count) : zoom(z.dataset.zoom === "in" ? .5 : 2);
    if (c) choose(c.dataset.cursor);
    if (f) { const from = (f.dataset.from - start) / step, to = (f.dataset.to - start) / step, room = Math.max((to - from) * .15, count / 400); look(from - room, to + room); }
  });
  document.addEventListener("keydown", (e) => {
    if (e.ctrlKey || e.metaKey || e.altKey || e.target.matches("input, select, textarea")) return;
    const by = (last - first) * .2;
    const does = { "+": () => zoom(.5), "=": () => zoom(.5), "-": () => zoom(2), 0: () => look(0, count), ArrowLeft: () => look(first - by, last - by), ArrowRight: () => look(first + by, last + by), a: () => { choose("a"); put("a", (first + last) / 2); }, b: () => { choose("b"); put("b", (first + last) / 2); } }[e.key];
    if (does) { e.preventDefault(); does(); }
  });
  new ResizeObserver(() => { size(); draw(); ask(); }).observe(canvas);
  size(); ask(true);
})();
