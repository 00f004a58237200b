// The answer to a form stands at the address of the page that it shows, so that loading it anew sends nothing again.
history.replaceState(null, '', document.currentScript.dataset.path);
