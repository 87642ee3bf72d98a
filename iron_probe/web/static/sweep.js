"use strict";
// Arrow keys walk a fuse box: to the nearest slot that way, in the field or out of it.
(() => {
  const at = (s) => [+s.dataset.row, +s.dataset.column];
  const ways = { ArrowRight: [0, 1], ArrowLeft: [0, -1], ArrowDown: [1, 0], ArrowUp: [-1, 0] };
  document.addEventListener("keydown", (event) => {
    const way = ways[event.key];
    const other = event.target.matches("input, select, textarea") && !event.target.matches("[data-sweep]");
    if (!way || other || event.ctrlKey || event.metaKey || event.altKey) return;
    const slots = [...document.querySelectorAll(".fusebox a[data-row]")], here = slots.find((s) => s.getAttribute("aria-current") === "true");
    if (!here) return;
    const [row, column] = at(here);
    const ahead = slots.map((s) => { const [r, c] = at(s); return [s, (r - row) * way[0] + (c - column) * way[1], Math.abs((r - row) * way[1]) + Math.abs((c - column) * way[0])]; })
      .filter(([s, along]) => s !== here && along > 0).sort((a, b) => a[1] + 3 * a[2] - b[1] - 3 * b[2]);
    if (!ahead.length) return;
    event.preventDefault();
    location.assign(ahead[0][0].getAttribute("href"));
  });
})();
