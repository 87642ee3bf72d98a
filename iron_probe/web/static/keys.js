"use strict";
// Keys and printing. A key named in data-key clicks its element, or goes into its field; typing in a field is left alone.
(() => {
  const typing = (el) => el.matches("textarea, select, input:not([type=radio]):not([type=checkbox])");
  const toggleKeys = () => { const keys = document.getElementById("keys"); keys.hidden = !keys.hidden; };

  document.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.key === "Escape") { document.getElementById("keys").hidden = true; document.activeElement.blur(); return; }
    if (typing(event.target)) return;
    if (event.key === "?") { toggleKeys(); event.preventDefault(); return; }
    if (event.key === "y") { location.assign("/"); return; }
    const field = document.querySelector(`[data-focus="${CSS.escape(event.key)}"]`);
    if (field) { event.preventDefault(); field.focus(); return; }
    const target = document.querySelector(`[data-key="${CSS.escape(event.key)}"]:not([disabled])`);
    if (target) { event.preventDefault(); if (typing(target)) target.focus(); else target.click(); }
  });

  document.addEventListener("click", (event) => {
    if (event.target.closest("[data-keys-toggle]")) toggleKeys();
    if (event.target.closest("[data-print]")) window.print();
  });
})();
