"use strict";
// A machine's circuit drawn whole: parts nobody has seen are grey, and the part in hand is marked and brought into sight.
(() => {
  const map = () => document.querySelector(".whole-map");
  const branches = (part) => map()?.querySelectorAll(`[data-element="${CSS.escape(part)}"]`) ?? [];

  function showAssumed() {
    for (const part of map()?.dataset.assumed?.split(" ") ?? []) for (const branch of branches(part)) branch.classList.add("assumed");
  }

  function showPart(part) {
    for (const before of map()?.querySelectorAll(".picked") ?? []) before.classList.remove("picked");
    const drawn = [...branches(part)], plate = map()?.closest(".machine-plate");
    for (const branch of drawn) branch.classList.add("picked");
    if (!drawn.length || !plate) return;
    const at = drawn[0].getBoundingClientRect(), seen = plate.getBoundingClientRect();
    if (at.left < seen.left || at.right > seen.right) plate.scrollLeft += at.left + at.width / 2 - seen.left - seen.width / 2;
    if (at.top < seen.top || at.bottom > seen.bottom) plate.scrollTop += at.top + at.height / 2 - seen.top - seen.height / 2;
  }

  document.addEventListener("plate:part", (event) => showPart(event.detail));
  for (const near of ["focusin", "pointerover"]) document.addEventListener(near, (event) => {
    const shows = event.target.closest?.("[data-shows]");
    if (shows) showPart(shows.dataset.shows);
  });
  document.addEventListener("htmx:afterSettle", showAssumed);
  showAssumed();
})();
