"use strict";
// The link: what is sent while there is none is kept on this device with its id and true time, shown as not yet sent, and sent in order when the link is back.
(() => {
  const UNSENT = "unsent";
  const list = () => JSON.parse(localStorage.getItem(UNSENT) || "[]");
  const keep = (entries) => { localStorage.setItem(UNSENT, JSON.stringify(entries)); show(); };
  const box = document.getElementById("unsent"), word = document.getElementById("offline"), failed = document.getElementById("failed");
  const AGE = { read_at: (minutes) => `${minutes} min ago`, ago: (minutes) => `${minutes} min` }; // fields that say when it was, as they are typed
  const AWAY = [502, 503, 504]; // something before the app answers: the app itself does not
  const ENTRY_MS = 30000, PHOTO_MS = 120000, AGAIN_MS = 5000;
  let down = false, sending = false;

  const told = (pairs) => { // what was typed, for whoever looks at the list
    const said = Object.fromEntries(pairs);
    return (said.photo && `photo ${said.caption}`) || said.value || said.word || said.volts || said.text || said.what || said.test || "an entry";
  };

  function show() {
    const entries = list(), refused = entries.filter((e) => e.refused);
    box.hidden = !entries.length;
    box.querySelector("summary").textContent = entries.length ? `${entries.length} not yet sent${refused.length ? `, ${refused.length} refused` : ""}` : "";
    box.querySelector("ol").replaceChildren(...entries.map((e) => {
      const row = document.createElement("li"), page = document.createElement("a");
      page.href = e.page;
      page.textContent = `${e.told}, ${new Date(e.at).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit" })}`;
      row.append(page, e.refused ? `: ${e.refused} ` : " ");
      for (const [name, act] of [...(e.refused ? [["Send again", "again"]] : []), ["Drop it", "drop"]]) row.append(Object.assign(document.createElement("button"), { type: "button", className: "quiet", textContent: name, onclick: () => mend(e.id, act) }));
      return row;
    }));
  }

  function mend(id, act) {
    keep(act === "drop" ? list().filter((e) => e.id !== id) : list().map((e) => e.id === id ? { ...e, refused: "" } : e));
    if (act === "again") send();
  }

  async function shrunk(file) { // small enough to wait here: as text, at most 1600 pixels
    const picture = await createImageBitmap(file), by = Math.min(1, 1600 / Math.max(picture.width, picture.height));
    const canvas = Object.assign(document.createElement("canvas"), { width: Math.round(picture.width * by), height: Math.round(picture.height * by) });
    canvas.getContext("2d").drawImage(picture, 0, 0, canvas.width, canvas.height);
    return canvas.toDataURL("image/jpeg", 0.75);
  }

  const sentAs = (pairs) => { // a form with a photo goes as a browser would send it
    const said = new FormData();
    for (const [name, value] of pairs) {
      const [, photo] = /^data:image\/jpeg;base64,(.*)$/.exec(value) || [];
      if (photo) said.append(name, new Blob([Uint8Array.from(atob(photo), (c) => c.charCodeAt(0))], { type: "image/jpeg" }), "photo.jpg");
      else said.append(name, value);
    }
    return said;
  };

  function queue(url, pairs) {
    const id = pairs.find(([name]) => name === "entry_id")?.[1] || crypto.randomUUID();
    if (list().some((e) => e.id === id)) return;
    keep([...list(), { id, url, pairs, at: Date.now(), told: told(pairs), page: location.pathname + location.search, refused: "" }]);
    for (const field of document.querySelectorAll("input[name=entry_id]")) if (field.value === id) { // the next one typed here is another one
      field.value = crypto.randomUUID();
      const form = field.form;
      for (const typed of form.querySelectorAll("input:not([type=hidden], [type=checkbox], [type=radio]), textarea")) { typed.value = ""; typed.dispatchEvent(new Event("input", { bubbles: true })); }
    }
    lost(true);
  }

  async function queuePhoto(form) {
    const file = form.elements.photo.files[0], fields = [...new FormData(form).entries()].filter(([, value]) => typeof value === "string");
    try {
      queue(form.action, [...fields, ["photo", await shrunk(file)]]);
      form.reset();
    } catch {
      failed.textContent = "This photo cannot be kept here until the link is back: it is no photo that can be read, or there is no room on this device. Send it again then.";
      failed.hidden = false;
    }
  }

  function lost(now) {
    down = now;
    word.hidden = !now;
  }

  function refusal(text, status) { // the page's own word for why not
    const page = new DOMParser().parseFromString(text, "text/html");
    return (page.querySelector(".asks, .wrong") || page.querySelector(".refusal p"))?.textContent.trim() || `the app answered ${status}`;
  }

  async function send() {
    if (sending) return;
    sending = true;
    try {
      for (const entry of list()) {
        if (entry.refused) continue;
        const photo = entry.pairs.some(([, value]) => value.startsWith("data:image/")), said = photo ? sentAs(entry.pairs) : new URLSearchParams(entry.pairs), minutes = Math.round((Date.now() - entry.at) / 60000);
        if (minutes > 0) for (const [name, worded] of Object.entries(AGE)) if (said.has(name) && !said.get(name)) said.set(name, worded(minutes));
        const answer = await fetch(entry.url, { method: "POST", body: said, signal: AbortSignal.timeout(photo ? PHOTO_MS : ENTRY_MS) }); // a link that died under it never answers; sent again under its id it is written once
        if (AWAY.includes(answer.status)) return lost(true);
        lost(false);
        if (answer.ok) keep(list().filter((e) => e.id !== entry.id));
        else {
          const why = refusal(await answer.text(), answer.status);
          keep(list().map((e) => e.id === entry.id ? { ...e, refused: why } : e));
        }
      }
      if (!list().length && box.dataset.had) { delete box.dataset.had; location.reload(); } // what is shown is what is logged
    } catch { lost(true); } finally { sending = false; }
  }

  function unanswered(asked) {
    if (asked.verb !== "post") { lost(true); return; }
    box.dataset.had = "yes";
    queue(asked.path, [...asked.formData.entries()].filter(([, value]) => typeof value === "string"));
  }
  function notYet({ elt, requestConfig }) { // what a page asks for by itself is asked for again; it is no entry
    if (!elt.getAttribute("hx-trigger")?.startsWith("load")) { unanswered(requestConfig); return; }
    lost(true);
    setTimeout(() => { if (elt.isConnected) window.htmx.trigger(elt, "again"); }, AGAIN_MS);
  }
  document.addEventListener("htmx:sendError", (event) => notYet(event.detail));
  document.addEventListener("htmx:responseError", (event) => { // answered, and not with a page that can be shown in place of this one
    const { xhr } = event.detail;
    if (AWAY.includes(xhr.status)) { notYet(event.detail); return; }
    failed.textContent = `Nothing was changed: ${refusal(xhr.responseText, xhr.status)}. What you typed is still in its field.`;
    failed.hidden = false;
  });
  document.addEventListener("htmx:afterOnLoad", () => { failed.hidden = true; lost(false); });
  document.addEventListener("submit", (event) => { // a plain form would be lost on the browser's own page of errors
    const form = event.target;
    if (event.defaultPrevented || form.method !== "post" || form.hasAttribute("hx-post") || (form.enctype === "multipart/form-data" && !form.matches("[data-photo]"))) return;
    if (!down && navigator.onLine) return;
    event.preventDefault();
    box.dataset.had = "yes";
    if (form.matches("[data-photo]")) { queuePhoto(form); return; }
    queue(form.action, [...new FormData(form, event.submitter).entries()]);
  });
  document.addEventListener("submit", (event) => { // whoever takes this device next sees no page of the one who left
    if (event.target.matches("form[action='/sign-out']")) caches?.keys().then((kept) => kept.forEach((name) => caches.delete(name)));
  });
  addEventListener("online", send);
  setInterval(() => { if (list().some((e) => !e.refused)) { box.dataset.had = "yes"; send(); } else if (down) fetch("/static/icon.svg", { method: "HEAD", cache: "no-store" }).then(() => lost(false), () => {}); }, 3000);

  show();
  if (list().length) { box.dataset.had = "yes"; send(); }
  if ("serviceWorker" in navigator) navigator.serviceWorker.register("/sw.js").then(() => navigator.serviceWorker.ready).then((worker) => {
    const pages = [...document.querySelectorAll(".strip-nav > a")].map((a) => a.getAttribute("href")), job = pages[0];
    if (!job || sessionStorage.getItem(`kept ${job}`)) return;
    sessionStorage.setItem(`kept ${job}`, "yes");
    worker.active.postMessage({ keep: [location.pathname + location.search, ...pages, `${/^\/jobs\/\d+/.exec(job)}/good`, ...[...document.querySelectorAll("link[rel=stylesheet], script[src]")].map((e) => e.getAttribute("href") || e.getAttribute("src"))] });
  }, () => {});
})();
