"use strict";
// The charge strip as meters stream: the mean of each second, ten minutes of them, volts and amps in the frame of the typed ones.
(() => {
  const strip = document.querySelector("[data-live-strip]");
  if (!strip) return;
  const SECONDS = 600, { lowV, highV, mostA } = strip.dataset, seconds = { V: new Map(), A: new Map() }, drawn = {}; // of each unit the meter that came first
  let newest = 0;
  const height = { V: (v) => 1 - Math.min(Math.max((v - lowV) / (highV - lowV), 0), 1), A: (a) => 1 - Math.min(Math.abs(a) / mostA, 1) };

  document.addEventListener("meter", ({ detail: { meter, at, values } }) => {
    const unit = meter && values && document.querySelector(`#meters [data-meter="${CSS.escape(meter)}"]`)?.dataset.unit, kept = seconds[unit];
    if (!kept || (drawn[unit] ??= meter) !== meter) return;
    values.forEach((value, k) => {
      if (value === null) return;
      const second = Math.floor(at[k]), [sum, count] = kept.get(second) || [0, 0];
      kept.set(second, [sum + value, count + 1]);
    });
    for (const second of kept.keys()) if (second < Math.floor(at.at(-1)) - SECONDS) kept.delete(second); else break;
    if (Math.floor(at.at(-1)) === newest) return;
    newest = Math.floor(at.at(-1));
    draw();
  });

  function draw() {
    const all = [...seconds.V.keys(), ...seconds.A.keys()], first = Math.min(...all), span = Math.max(Math.max(...all) - first, 10);
    for (const unit of ["V", "A"]) {
      const points = [...seconds[unit]].map(([s, [sum, count]]) => `${(20 + (960 * (s - first)) / span).toFixed(1)},${(10 + 130 * height[unit](sum / count)).toFixed(1)}`);
      strip.querySelector(`[data-of="${unit}"]`).setAttribute("points", points.join(" "));
    }
    strip.hidden = false;
    strip.querySelector("[data-span]").textContent = `${Math.round(span)} s`;
  }
})();
