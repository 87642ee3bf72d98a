"use strict";
// An upload shows how much is sent; without this script the form is sent as it is.
document.addEventListener("submit", (event) => {
  const form = event.target;
  if (!form.matches("[data-upload]")) return;
  event.preventDefault();
  const bar = form.querySelector("progress"), button = form.querySelector("button"), request = new XMLHttpRequest();
  bar.hidden = false; button.disabled = true;
  request.upload.addEventListener("progress", (e) => { if (e.lengthComputable) bar.value = e.loaded / e.total; });
  request.addEventListener("load", () => { if (request.responseURL !== location.href) location.assign(request.responseURL); else { document.open(); document.write(request.responseText); document.close(); } });
  request.addEventListener("error", () => { bar.hidden = true; button.disabled = false; document.getElementById("offline").hidden = false; });
  request.open("POST", form.action);
  request.send(new FormData(form));
});
