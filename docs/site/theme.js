// SPDX-License-Identifier: MIT
// Light or dark, before the page is displayed: as last chosen, or as the system has it.

function chooseTheme(name) {
  document.documentElement.dataset.theme = name;
  try {
    localStorage.setItem("theme", name);
  } catch {} // a browser may refuse storage to pages from disk
}

document.documentElement.dataset.theme = (() => {
  try {
    return localStorage.getItem("theme");
  } catch {
    return null;
  }
})() ?? (matchMedia("(prefers-color-scheme: dark)").matches ? "dark" : "light");
