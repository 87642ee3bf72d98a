"use strict";
// The workbench: a part is picked by being in it, every edit is made by the app on the draft, and drafts are kept for undo and for a reload.
(() => {
  const form = () => document.getElementById("workbench");
  if (!form()) return;
  const text = () => form().elements.text.value, key = `iron-probe-draft-${form().dataset.machine}-${form().dataset.base}`;
  const BY_KEY = { p: "plug", s: "split", c: "copy", x: "strike" };
  let drafts = [text()], at = 0, finding = "";

  const saved = sessionStorage.getItem(key);
  if ("fresh" in form().dataset) { // a table was just put on: a reload shows it, and what stood here before is one undo away
    drafts = [saved ?? document.getElementById("before").value, drafts[0]];
    at = 1;
    sessionStorage.setItem(key, text());
    history.replaceState(null, "", form().action);
  } else if (saved && saved !== drafts[0]) { drafts.push(saved); send({ do: "show" }, saved); }

  async function send(fields, draft = text(), keepsHistory = false) {
    const body = new FormData(form());
    for (const [name, value] of Object.entries(fields)) body.set(name, value);
    body.set("text", draft);
    const active = document.activeElement?.closest?.("[data-part]") && document.activeElement.dataset.field;
    form().setAttribute("aria-busy", "true");
    try {
      const answer = await fetch(form().action, { method: "POST", body, headers: { "HX-Request": "true" } });
      const page = new DOMParser().parseFromString(await answer.text(), "text/html"), fresh = page.getElementById("workbench");
      if (!fresh) throw new Error(page.querySelector("main")?.textContent ?? `the app answered ${answer.status}`);
      const opened = [...form().querySelectorAll("details[open]")].map((d) => d.dataset.partOf);
      const scrolled = form().querySelector(".feed-list").scrollTop, along = form().querySelector(".machine-plate").scrollLeft, note = form().elements.note.value;
      form().replaceWith(fresh);
      htmx.process(fresh);
      form().elements.note.value = note;
      for (const part of opened) form().querySelector(`details[data-part-of="${part}"]`)?.setAttribute("open", "");
      form().querySelector(".feed-list").scrollTop = scrolled;
      form().querySelector(".machine-plate").scrollLeft = along;
      if (!keepsHistory && text() !== drafts[at]) { drafts = [...drafts.slice(0, at + 1), text()]; at++; }
      sessionStorage.setItem(key, text());
      pick(form().querySelector("[data-picked]"), active);
      show();
    } catch (error) {
      form().removeAttribute("aria-busy");
      const failed = document.getElementById("failed");
      failed.textContent = `Not changed: ${error.message.trim().slice(0, 300)}`;
      failed.hidden = false;
    }
  }

  function pick(row, name) {
    if (!row) return;
    for (const other of form().querySelectorAll("[data-picked]")) delete other.dataset.picked;
    row.dataset.picked = "";
    form().elements.part.value = row.dataset.part;
    row.scrollIntoView({ block: "nearest" });
    document.dispatchEvent(new CustomEvent("plate:part", { detail: row.dataset.part }));
    if (name) row.querySelector(`[data-field="${name}"]`)?.focus();
  }

  function show() {
    form().querySelector("[data-undo]").disabled = at === 0;
    form().querySelector("[data-redo]").disabled = at >= drafts.length - 1;
    const find = form().querySelector("[data-find]");
    find.value = finding;
    filter();
  }

  function filter() {
    const words = finding.toLowerCase().split(/\s+/).filter(Boolean);
    for (const row of form().querySelectorAll(".feed-row")) {
      const said = `${row.textContent} ${[...row.querySelectorAll("input")].map((i) => i.value).join(" ")}`.toLowerCase();
      row.hidden = !words.every((w) => said.includes(w));
    }
  }

  const go = (step) => { if (drafts[at + step] !== undefined) { at += step; send({ do: "show" }, drafts[at], true); } };

  document.addEventListener("focusin", (event) => pick(event.target.closest?.(".feed-row")));
  document.addEventListener("input", (event) => { if (event.target.matches("[data-find]")) { finding = event.target.value; filter(); } });
  document.addEventListener("change", (event) => {
    const row = event.target.closest?.("[data-part]"), name = event.target.dataset?.field, { state, control } = event.target.dataset ?? {};
    if (state) send({ do: "set", part: state, field: control, value: event.target.value });
    if (row && name && event.target.value !== event.target.defaultValue) {
      event.target.defaultValue = event.target.value; // once, though leaving the field tells it again
      send({ do: "change", part: row.dataset.part, field: name, value: event.target.value });
    }
  });
  document.addEventListener("submit", (event) => { if (event.target.matches("#workbench")) sessionStorage.removeItem(key); });
  document.addEventListener("click", (event) => {
    if (event.target.dataset?.do) send({ do: event.target.dataset.do });
    if (event.target.matches("[data-undo]")) go(-1);
    if (event.target.matches("[data-redo]")) go(1);
  });
  document.addEventListener("keydown", (event) => {
    const row = event.target.closest?.(".feed-row");
    if (event.key === "Enter" && event.target.matches("#workbench input")) { // enters what was typed, and never keeps the draft
      event.preventDefault();
      if (event.target.matches("[name=at], [name=what]")) send({ do: "tap" });
      else if (event.target.matches("[name=to]")) send({ do: "join" });
      else event.target.dispatchEvent(new Event("change", { bubbles: true }));
    } else if (event.ctrlKey && !event.shiftKey && event.key === "z" && drafts.length > 1) { event.preventDefault(); go(-1); }
    else if (event.ctrlKey && (event.key === "y" || event.key === "Z")) { event.preventDefault(); go(1); }
    else if (event.altKey && BY_KEY[event.key]) { event.preventDefault(); send({ do: BY_KEY[event.key] }); }
    else if (row && (event.key === "ArrowDown" || event.key === "ArrowUp") && !event.target.getAttribute("list")) {
      const rows = [...form().querySelectorAll(".feed-row:not([hidden])")], next = rows[rows.indexOf(row) + (event.key === "ArrowDown" ? 1 : -1)];
      if (next) { event.preventDefault(); (next.querySelector(`[data-field="${event.target.dataset.field}"]`) ?? next.querySelector("input")).focus(); }
    }
  });
  show();
})();
