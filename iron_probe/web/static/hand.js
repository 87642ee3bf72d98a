"use strict";
// How the page is held: dark, gloves, and the step spoken. Set before anything is drawn; each switch stays on this device.
(() => {
  const root = document.documentElement, kept = (name) => localStorage.getItem(`hand ${name}`) || "";
  const set = () => {
    if (kept("theme")) root.dataset.theme = kept("theme"); else delete root.dataset.theme;
    root.toggleAttribute("data-glove", kept("glove") === "on");
  };
  set();

  const speaks = () => kept("speech") === "on" && "speechSynthesis" in window;
  let said = "";
  function say(text) {
    if (!speaks() || !text) return;
    speechSynthesis.cancel();
    speechSynthesis.speak(Object.assign(new SpeechSynthesisUtterance(text), { lang: root.lang }));
  }
  function sayStep(first = "") {
    const step = document.querySelector("[data-step]")?.textContent.trim() || "";
    if (step !== said || first) say([first, step === said ? "" : step].filter(Boolean).join(". "));
    said = step;
  }

  document.addEventListener("DOMContentLoaded", () => {
    for (const field of document.querySelectorAll("[data-hand]")) {
      if (field.type === "checkbox") field.checked = kept(field.dataset.hand) === "on"; else field.value = kept(field.dataset.hand);
      if (field.dataset.hand === "speech" && !("speechSynthesis" in window)) field.closest("label").hidden = true;
    }
    sayStep();
  });
  document.addEventListener("change", (event) => {
    const field = event.target;
    if (!field.dataset?.hand) return;
    localStorage.setItem(`hand ${field.dataset.hand}`, field.type === "checkbox" ? (field.checked ? "on" : "") : field.value);
    set();
    if (["units", "language"].includes(field.dataset.hand)) { document.cookie = `iron_probe_${field.dataset.hand}=${field.value}; path=/; max-age=${field.value ? 31536000 : 0}; samesite=strict`; location.reload(); }
    if (field.dataset.hand === "speech") { said = ""; sayStep(); }
  });
  document.addEventListener("htmx:afterSettle", () => sayStep(document.querySelector(".last-word, .made .taken")?.textContent.trim() || ""));
})();
