"use strict";
// A table of the page to the clipboard, as spreadsheets take it: a row a line, cells parted by tabs.
document.addEventListener("click", async (event) => {
  const button = event.target.closest("[data-copy-table]");
  if (!button) return;
  const plain = (cell) => cell.innerText.replace(/\s+/g, " ").trim().replace(/^(?=[=+@])/, "'"); // nothing that a spreadsheet would work out
  const tables = [...button.closest("section, div").querySelectorAll("table")];
  const rows = tables.flatMap((table, k) => [...table.rows].slice(k ? 1 : 0).map((row) => [...row.cells].map(plain).join("\t")));
  const said = button.textContent;
  try {
    await navigator.clipboard.writeText(rows.join("\n"));
    button.textContent = `${rows.length - 1} rows copied`;
  } catch {
    button.textContent = "The browser did not let it: mark the table and copy it by hand";
  }
  setTimeout(() => { button.textContent = said; }, 4000);
});
