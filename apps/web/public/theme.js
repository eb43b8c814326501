// Before anything is painted: a page in the light theme never shows the dark one while it loads. Workspace has the same value.
try {
  const kept = sessionStorage.getItem('arvex.theme') ?? localStorage.getItem('arvex.theme');
  if (kept !== null) document.documentElement.dataset.theme = JSON.parse(kept);
} catch {
  // a browser that keeps nothing begins with the dark theme
}
