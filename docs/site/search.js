// SPDX-License-Identifier: MIT
// Search, and the menu of small screens.

const up = document.body.dataset.up;
const input = document.getElementById("search");
const results = document.getElementById("results");

const index = new MiniSearch({
  fields: ["title", "page", "text"],
  storeFields: ["title", "page", "href", "text"],
  searchOptions: { boost: { title: 4, page: 1.5 }, prefix: true, fuzzy: 0.15, combineWith: "AND" },
});
index.addAll(window.sections.map((section, id) => ({ id, ...section })));

/** The words around the first match. */
function excerpt(text, terms) {
  const at = Math.max(0, ...terms.map((term) => text.toLowerCase().indexOf(term)));
  const from = Math.max(0, at - 30);
  return (from > 0 ? "… " : "") + text.slice(from, from + 110).trim();
}

function show() {
  const found = input.value.trim() === "" ? [] : index.search(input.value).slice(0, 12);
  results.hidden = input.value.trim() === "";
  results.replaceChildren(
    ...found.map((each) => {
      const link = document.createElement("a");
      link.href = `${up}/${each.href}`;
      const title = document.createElement("strong");
      title.textContent = each.title;
      const where = document.createElement("span");
      where.textContent = each.page;
      const text = document.createElement("small");
      text.textContent = excerpt(each.text, each.terms);
      link.append(title, where, text);
      const item = document.createElement("li");
      item.append(link);
      return item;
    }),
  );
  if (!results.hidden && found.length === 0) results.textContent = "Nothing found.";
}

input.addEventListener("input", show);
input.addEventListener("keydown", (event) => {
  if (event.key === "Escape") {
    input.value = "";
    show();
  } else if (event.key === "Enter" || event.key === "ArrowDown") {
    const first = results.querySelector("a");
    if (first) event.key === "Enter" ? first.click() : first.focus();
    event.preventDefault();
  }
});
results.addEventListener("keydown", (event) => {
  const links = [...results.querySelectorAll("a")];
  const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
  if (!step) return;
  (links[links.indexOf(document.activeElement) + step] ?? input).focus();
  event.preventDefault();
});
document.addEventListener("keydown", (event) => {
  if (event.key !== "/" || event.target instanceof HTMLInputElement) return;
  input.focus();
  event.preventDefault();
});
document.addEventListener("click", (event) => {
  if (!event.target.closest(".search")) results.hidden = true;
});

document.getElementById("menu").addEventListener("click", ({ currentTarget }) => {
  const isOpen = document.body.classList.toggle("menu-open");
  currentTarget.setAttribute("aria-expanded", String(isOpen));
});

document.getElementById("theme").addEventListener("click", () => chooseTheme(document.documentElement.dataset.theme === "dark" ? "light" : "dark"));
