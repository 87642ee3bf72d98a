"use strict";
// The composer: what is typed while the drawing is made anew stays where it is.
(() => {
  const fields = () => [...document.querySelectorAll("#compose :is(textarea, input[name=name])")];
  let sent = new Map(), typed = [];

  document.addEventListener("htmx:beforeRequest", (event) => {
    if (event.detail.elt.id === "compose") sent = new Map(fields().map((f) => [f.id, f.value]));
  });
  document.addEventListener("htmx:beforeSwap", (event) => {
    if (event.detail.target.id !== "compose") return;
    typed = fields().filter((f) => sent.has(f.id) && sent.get(f.id) !== f.value).map((f) => ({ id: f.id, value: f.value, at: f.selectionStart, here: f === document.activeElement }));
  });
  document.addEventListener("htmx:afterSettle", () => {
    for (const { id, value, at, here } of typed) {
      const field = document.getElementById(id);
      if (!field) continue;
      field.value = value;
      if (here) { field.focus({ preventScroll: true }); field.setSelectionRange(at, at); }
    }
    typed = [];
  });
})();
