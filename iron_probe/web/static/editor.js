"use strict";
// The sheet editor: line numbers beside the text, marked where a mistake is; a mistake's button goes to its line.
(() => {
  const editor = document.querySelector("[data-editor]");
  if (!editor) return;
  const text = editor.querySelector("textarea"), gutter = editor.querySelector(".gutter");
  let count = 0;
  const number = () => {
    const lines = text.value.split("\n").length;
    while (count < lines) { const item = document.createElement("li"); item.textContent = ++count; gutter.append(item); }
    while (count > lines) { gutter.lastElementChild.remove(); count--; }
  };
  const mark = () => {
    for (const item of gutter.querySelectorAll(".off")) item.classList.remove("off");
    for (const button of document.querySelectorAll("#mistakes [data-line]")) gutter.children[Number(button.dataset.line) - 1]?.classList.add("off");
  };
  const follow = () => { gutter.scrollTop = text.scrollTop; };
  text.addEventListener("input", number);
  text.addEventListener("scroll", follow);
  document.addEventListener("htmx:afterSwap", mark);
  document.addEventListener("click", (event) => {
    const line = Number(event.target.closest?.("[data-line]")?.dataset.line);
    if (!line) return;
    const lines = text.value.split("\n"), start = lines.slice(0, line - 1).reduce((sum, l) => sum + l.length + 1, 0);
    text.focus();
    text.setSelectionRange(start, start + (lines[line - 1] ?? "").length);
    text.scrollTop = (line - 4) * parseFloat(getComputedStyle(text).lineHeight);
  });
  number(); mark();
})();
