"use strict";
// The field of a reading, on every screen: the cursor is back in the next field after a log, the one key answers the question, and what was typed outlives a reload.
(() => {
  const KEPT = "[data-entry] :is(textarea, input:not([type=hidden], [type=checkbox], [type=radio]))";
  const fields = () => document.querySelectorAll(KEPT);
  const form = (field) => `typed ${location.pathname} ${field.closest("[data-entry]").dataset.entry} `;
  const name = (field) => form(field) + field.name;

  function settle() { // after a log or a refusal: to the question, to what is wrong, or to the field that is next
    const sure = document.querySelector("[data-sure]");
    const wrong = document.querySelector("[data-entry] [aria-invalid=true]");
    const next = sure || wrong || document.querySelector("[data-entry] [autofocus]") || document.querySelector("[data-entry] [data-key=n]");
    if (next) { next.focus({ preventScroll: true }); if (next.select) next.select(); next.scrollIntoView({ block: "nearest" }); }
  }

  function restore() {
    for (const field of fields()) {
      const typed = sessionStorage.getItem(name(field));
      if (typed && !field.value) field.value = typed;
    }
  }

  document.addEventListener("input", (event) => {
    if (event.target.matches(KEPT)) sessionStorage.setItem(name(event.target), event.target.value);
  });
  document.addEventListener("htmx:afterRequest", (event) => { // logged: what stood in the field is in the log
    const sender = event.detail.requestConfig.elt.closest("[data-entry]"), xhr = event.detail.xhr; // the element may be gone by now
    if (event.detail.successful && event.detail.requestConfig.verb === "post" && xhr.responseURL && xhr.responseURL !== new URL(event.detail.pathInfo.requestPath, location).href) history.replaceState(null, "", xhr.responseURL); // a reload shows what is shown
    if (sender && event.detail.successful) for (const key of Object.keys(sessionStorage)) if (key.startsWith(form(sender))) sessionStorage.removeItem(key);
  });
  const sent = new WeakSet(); // requests of a field: what else the page asks for meanwhile is not an answer to them
  document.addEventListener("htmx:beforeRequest", (event) => { if (event.detail.elt.closest("[data-entry], #withdraw")) sent.add(event.detail.xhr); });
  document.addEventListener("htmx:afterSettle", (event) => { if (event.detail.xhr && sent.delete(event.detail.xhr)) { restore(); settle(); } });

  document.addEventListener("keydown", (event) => { // a figure typed over the question begins the field anew
    if (!event.target.matches("[data-sure]") || !/^[\d.,<>−-]$/.test(event.key) || event.ctrlKey || event.metaKey || event.altKey) return;
    const field = event.target.form.elements.value;
    event.preventDefault();
    field.value = event.key;
    field.focus();
  });

  document.addEventListener("click", (event) => { // the first stop of the tab key: past the strips, to the field if there is one
    if (!event.target.closest("[data-to-field]")) return;
    const field = [...document.querySelectorAll("[data-entry] :is(input, textarea, select):not([type=hidden])")].find((f) => f.offsetParent && f.matches("[data-key=n], [name=value], [autofocus]"));
    if (field) { event.preventDefault(); field.focus(); }
  });

  function inSight() { // a row that runs off a small screen shows what is in hand
    for (const here of document.querySelectorAll(".strip-nav [aria-current], .route [aria-current], .plate-row a[aria-current], .chain a[aria-current], .found-line .w-found")) {
      const row = here.closest(".strip-nav, .route, .plate-row, .chain"), at = here.getBoundingClientRect(), seen = row.getBoundingClientRect();
      row.scrollLeft += at.left + at.width / 2 - seen.left - seen.width / 2;
    }
  }
  document.addEventListener("htmx:afterSettle", inSight);
  restore();
  inSight();
  if (document.querySelector("[data-sure], [data-entry] [aria-invalid=true]")) settle();
})();
