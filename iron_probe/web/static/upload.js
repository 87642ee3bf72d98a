"use strict";
// An upload shows how much is sent; without this script the form is sent as it is.
document.querySelector("[data-upload]")?.addEventListener("submit", (event) => {
  event.preventDefault();
  const form = event.target, bar = form.querySelector("progress"), button = form.querySelector("button"), request = new XMLHttpRequest();
  bar.hidden = false; button.disabled = true;
  request.upload.addEventListener("progress", (e) => { if (e.lengthComputable) bar.value = e.loaded / e.total; });
  request.addEventListener("load", () => { if (request.responseURL !== location.href) location.assign(request.responseURL); else { document.open(); document.write(request.responseText); document.close(); } });
  request.addEventListener("error", () => { bar.hidden = true; button.disabled = false; document.getElementById("offline").hidden = false; });
  request.open("POST", form.action);
  request.send(new FormData(form));
});
