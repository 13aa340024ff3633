// SPDX-License-Identifier: MIT
// Builds the documentation as a folder of HTML that opens from disk:
//
//     node build.mjs ROOT TO      ROOT: the project; TO: the folder, into which Doxygen has written api/ and api.tag
//
// Markdown becomes pages, links to sources become pages with their text, and all sections go into the search.

import { cpSync, existsSync, mkdirSync, readFileSync, readdirSync, statSync, writeFileSync } from "node:fs";
import { createRequire } from "node:module";
import { dirname, extname, join, posix, relative } from "node:path";
import hljs from "highlight.js";
import MarkdownIt from "markdown-it";

const [root, to] = process.argv.slice(2);
const assets = join(root, "docs/site");

/** The pages in the order of the navigation: title and Markdown file. */
const groups = [
  ["Start", [["Overview", "README.md"], ["The first ten minutes", "docs/guide/first-ten-minutes.md"]]],
  ["Guide", [
    ["Tune it", "docs/guide/tune-it.md"],
    ["Read a motion", "docs/guide/reading-a-motion.md"],
    ["Say what you want", "docs/guide/say-what-you-want.md"],
    ["Keys and events", "docs/guide/make-it-answer.md"],
    ["Flocks and agents", "docs/guide/let-them-find-their-way.md"],
    ["Use it again", "docs/guide/use-it-again.md"],
    ["Start from an artist's scene", "docs/guide/from-an-artist.md"],
    ["Write your own", "docs/guide/write-your-own.md"],
    ["Ship it in your engine", "docs/guide/ship-it.md"],
  ]],
  ["Reference", [
    ["Behaviours", "docs/reference/behaviours.md"],
    ["Scene file", "docs/reference/scene-file.md"],
    ["Rules, input, events", "docs/reference/rules.md"],
    ["Scripts", "docs/reference/scripts.md"],
    ["Watches", "docs/reference/watches.md"],
    ["Measures", "docs/reference/measures.md"],
    ["Sweeps and wishes", "docs/reference/sweeps.md"],
    ["Commands", "docs/reference/commands.md"],
    ["Findings of check", "docs/reference/check.md"],
    ["Recordings", "docs/reference/recordings.md"],
    ["Play mode", "docs/reference/live.md"],
    ["Guarantees", "docs/reference/guarantees.md"],
    ["Glossary", "docs/reference/glossary.md"],
  ]],
  ["Project", [
    ["Architecture", "docs/architecture.md"],
    ["Decisions", "docs/decisions.md"],
    ["Contributing", "CONTRIBUTING.md"],
    ["Changes", "CHANGELOG.md"],
  ]],
];
const titles = new Map(groups.flatMap(([, pages]) => pages.map(([title, source]) => [source, title])));

/** Where a file of the project is in the documentation. */
function target(source) {
  if (source === "README.md") return "index.html";
  if (source.endsWith(".md")) return source.replace(/^docs\//, "").toLowerCase().replace(/md$/, "html");
  if (/\.(png|svg)$/.test(source)) return source.replace(/^docs\//, "");
  return `source/${source}.html`;
}

const escaped = (text) => text.replace(/&/g, "&amp;").replace(/</g, "&lt;").replace(/>/g, "&gt;").replace(/"/g, "&quot;");
const slug = (text) => text.toLowerCase().replace(/[^\w\s-]/g, "").trim().replace(/\s+/g, "-");
const highlighted = (text, language) => {
  const known = { toml: "ini", sh: "bash", cpp: "cpp", cmake: "cmake", json: "json", csv: "plaintext" }[language];
  return known ? hljs.highlight(text, { language: known }).value : escaped(text);
};

const copied = new Set();    // pictures and sources that pages refer to
const wrong = [];            // links that lead nowhere

/** A link of a page at `source` to another file of the project. */
function link(source, href) {
  if (/^[a-z]+:/.test(href) || href.startsWith("#")) return href;
  const [path, hash] = href.split("#");
  const file = posix.normalize(posix.join(posix.dirname(source), path));
  if (!existsSync(join(root, file))) {
    wrong.push(`${source}: "${href}" does not exist`);
    return href;
  }
  const page = statSync(join(root, file)).isDirectory() ? null : file;
  if (page === null) return pageOf(`${file}/`, source);
  if (!page.endsWith(".md")) copied.add(page);
  return relativeTo(target(source), target(page)) + (hash ? `#${hash}` : "");
}

function pageOf(folder, source) {
  copied.add(folder);
  return relativeTo(target(source), `source/${folder}index.html`);
}

const relativeTo = (from, file) => posix.relative(posix.dirname(from), file);

function markdown(source, sections) {
  const md = new MarkdownIt({ html: true, typographer: false, highlight: highlighted });
  let heading = null;
  md.renderer.rules.heading_open = (tokens, at) => {
    const text = tokens[at + 1].content.replace(/[`*]/g, "");
    return `<${tokens[at].tag} id="${slug(text)}">`;
  };
  for (const [rule, attribute] of [["link_open", "href"], ["image", "src"]]) {
    const before = md.renderer.rules[rule];
    md.renderer.rules[rule] = (tokens, at, options, env, self) => {
      tokens[at].attrSet(attribute, link(source, tokens[at].attrGet(attribute)));
      return before ? before(tokens, at, options, env, self) : self.renderToken(tokens, at, options);
    };
  }
  md.renderer.rules.table_open = () => '<div class="table"><table>';
  md.renderer.rules.table_close = () => "</table></div>";
  md.core.ruler.push("sections", (state) => {
    for (let i = 0; i < state.tokens.length; ++i) {
      const token = state.tokens[i];
      if (token.type === "heading_open") {
        const text = state.tokens[i + 1].content.replace(/[`*]/g, "");
        heading = { title: text, hash: slug(text), level: token.tag, text: "" };
        sections.push(heading);
      } else if (heading && token.type === "fence") {
        heading.text += ` ${token.content}`;
      } else if (heading && token.type === "inline") {
        const words = token.children.filter(({ type }) => type === "text" || type === "code_inline" || type === "softbreak");
        heading.text += ` ${words.map(({ type, content }) => (type === "softbreak" ? " " : content)).join("")}`;
      }
    }
  });
  const text = readFileSync(join(root, source), "utf8");
  return md.render(text).replace(/(src|href)="([^"]+)"/g, (whole, name, href) =>
    name === "src" && !href.startsWith("data:") && existsSync(join(root, dirname(source), href)) ? `src="${link(source, href)}"` : whole);
}

const template = readFileSync(join(assets, "page.html"), "utf8");

function navigation(page, current) {
  const up = (file) => relativeTo(page, file);
  const group = ([name, pages]) =>
    `<h2>${name}</h2><ul>${pages.map(([title, source]) => `<li><a href="${up(target(source))}"${source === current ? ' aria-current="page"' : ""}>${title}</a></li>`).join("")}</ul>`;
  const api = `<h2>C++ interface</h2><ul><li><a href="${up("api/annotated.html")}">Classes</a></li><li><a href="${up("api/files.html")}">Headers</a></li></ul>`;
  return groups.map(group).join("") + api;
}

function write(file, content) {
  mkdirSync(dirname(join(to, file)), { recursive: true });
  writeFileSync(join(to, file), content);
}

function page(file, current, title, content, contents = "") {
  const up = posix.relative(posix.dirname(file), ".") || ".";
  write(file, template
    .replaceAll("{{title}}", escaped(title)).replaceAll("{{up}}", up)
    .replace("{{navigation}}", () => navigation(file, current)).replace("{{contents}}", () => contents).replace("{{content}}", () => content));
}

const search = [];
for (const [source, title] of titles) {
  const sections = [];
  const content = markdown(source, sections);
  const contents = sections.filter(({ level }) => level === "h2" || level === "h3")
    .map(({ title: text, hash, level }) => `<li class="${level}"><a href="#${hash}">${escaped(text)}</a></li>`).join("");
  page(target(source), source, title, content, contents ? `<h2>On this page</h2><ul>${contents}</ul>` : "");
  for (const section of sections) search.push({ title: section.title, page: title, href: `${target(source)}#${section.hash}`, text: section.text });
}

// Pictures, and sources as pages.
for (const file of copied) {
  if (/\.(png|svg)$/.test(file)) {
    mkdirSync(dirname(join(to, target(file))), { recursive: true });
    cpSync(join(root, file), join(to, target(file)));
  } else if (file.endsWith("/")) {
    const names = readdirSync(join(root, file)).filter((name) => /\.(cpp|toml|csv)$/.test(name)).sort();
    for (const name of names) source(file + name);
    page(`source/${file}index.html`, null, file, `<h1>${file}</h1><ul>${names.map((name) => `<li><a href="${name}.html">${name}</a></li>`).join("")}</ul>`);
  } else {
    source(file);
  }
}

function source(file) {
  const language = { ".cpp": "cpp", ".hpp": "cpp", ".toml": "toml", ".sh": "sh" }[extname(file)] ?? "";
  page(target(file), null, file, `<h1>${file}</h1><pre><code>${highlighted(readFileSync(join(root, file), "utf8"), language)}</code></pre>`);
}

// The C++ interface: classes and functions of Doxygen's tag file.
const tags = readFileSync(join(to, "api.tag"), "utf8");
for (const [, compound] of tags.matchAll(/<compound kind="(?:class|struct|namespace)">([^]*?)<\/compound>/g)) {
  const one = (text, tag) => new RegExp(`<${tag}>([^<]*)</${tag}>`).exec(text)?.[1] ?? "";
  const name = one(compound, "name"), file = one(compound, "filename");
  if (name.includes("detail")) continue;
  search.push({ title: name, page: "C++ interface", href: `api/${file}`, text: "" });
  for (const [, member] of compound.matchAll(/<member kind="(?:function|enumeration)">([^]*?)<\/member>/g)) {
    if (one(member, "name").startsWith("operator")) continue;
    search.push({ title: `${name}::${one(member, "name")}`, page: "C++ interface", href: `api/${one(member, "anchorfile")}#${one(member, "anchor")}`, text: one(member, "arglist").replace(/&[a-z]+;/g, " ") });
  }
}
write("search-data.js", `window.sections = ${JSON.stringify(search)};\n`);
cpSync(join(dirname(createRequire(import.meta.url).resolve("minisearch")), "../umd/index.js"), join(to, "minisearch.js"));
for (const asset of ["style.css", "search.js", "theme.js"]) cpSync(join(assets, asset), join(to, asset));

for (const problem of wrong) console.error(problem);
console.log(relative(process.cwd(), join(to, "index.html")));
process.exit(wrong.length > 0 ? 1 : 0);
