// Builds the docs as a small site that asks for nothing elsewhere: `npm run site`, or with a folder to put it into.
import { copyFileSync, cpSync, mkdirSync, rmSync } from "node:fs";
import { dirname, relative, resolve } from "node:path";
import { fileURLToPath } from "node:url";
import Eleventy from "@11ty/eleventy";

const root = fileURLToPath(new URL("..", import.meta.url));
const out = resolve(process.argv[2] ?? `${root}out/site`);

/** Pages in the order in which one reads them; what is not named stands after. */
const chapters = [
  ["Begin", ["tutorial", "playground", "tasks/README"]],
  ["Houses", ["heron-cottage", "night-oven"]],
  ["Work", ["proof", "figures", "simulation", "running", "http", "panel"]],
  [
    "Reference",
    ["language", "semantics", "grammar", "functions", "problems", "library", "authoring", "api", "exactness", "glossary"],
  ],
  ["For who builds it", ["architecture", "contributing"]],
];

const titleOf = (content) => /^# (.*)$/m.exec(content)?.[1] ?? "Modrik";

const style = `
:root{--ground:#f4f7f0;--ink:#1d2b4f;--quiet:#5a5f5a;--hairline:#dae1d3;--accent:#27408b;--code:#fbfdf8}
@media (prefers-color-scheme:dark){:root{--ground:#131a19;--ink:#e1e9e4;--quiet:#a3afa9;--hairline:#2a3532;--accent:#8fa6e8;--code:#1b2423}}
body{margin:0;background:var(--ground);color:var(--ink);font:16px/1.55 "IBM Plex Sans",system-ui,sans-serif;display:grid;grid-template-columns:230px minmax(0,760px);gap:40px;padding:24px 28px 80px}
nav{font-size:14px;position:sticky;top:24px;align-self:start;max-height:94vh;overflow:auto}nav h2{font-size:13px;color:var(--quiet);margin:18px 0 2px}nav ul{list-style:none;margin:0;padding:0}nav a[aria-current]{font-weight:600}
a{color:var(--accent)}h1{font-size:28px;line-height:1.2;margin-top:0}h2{margin-top:36px}
pre{background:var(--code);border:1px solid var(--hairline);padding:12px 14px;overflow-x:auto;font:13px/1.5 "IBM Plex Mono",ui-monospace,monospace}
code{font-family:"IBM Plex Mono",ui-monospace,monospace;font-size:.9em}table{border-collapse:collapse;display:block;overflow-x:auto}td,th{border-bottom:1px solid var(--hairline);padding:4px 14px 4px 0;text-align:left;vertical-align:top}
img{max-width:100%}@media (max-width:800px){body{display:block;padding:16px}nav{position:static;max-height:none}}@media print{nav{display:none}body{display:block}}
`;

const escaped = (text) => text.replace(/[&<>"]/g, (sign) => ({ "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;" })[sign]);

/** The page around what was written. */
function page({ content, here, titles }) {
  const to = (name) => relative(dirname(`/${here}`), `/${name}.html`) || `${name}.html`;
  const lists = chapters.map(([title, names]) => {
    const items = names.map(
      (name) =>
        `<li><a href="${to(name)}"${name === here ? ' aria-current="page"' : ""}>${escaped(titles[name] ?? name)}</a></li>`,
    );
    return `<h2>${title}</h2><ul>${items.join("")}</ul>`;
  });
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><meta name="color-scheme" content="light dark">
<title>${escaped(titles[here] ?? "Modrik")} · Modrik</title><style>${style}</style></head>
<body><nav aria-label="Pages"><a href="${to("index")}"><strong>Modrik</strong></a>${lists.join("")}</nav><main>${content}</main></body></html>
`;
}

/** Headings can be linked to, by their words. */
const anchored = (html) =>
  html.replace(/<h([123])>(.*?)<\/h\1>/g, (_, level, text) => {
    const id = text
      .replace(/<[^>]*>|&\w+;/g, "")
      .toLowerCase()
      .replace(/[^\p{L}\p{N} -]/gu, "")
      .replaceAll(" ", "-");
    return `<h${level} id="${id}">${text}</h${level}>`;
  });

/** Where the link of a page leads on the site: other pages are there; files of the project are only named. */
function linked(html) {
  return html
    .replace(/href="[^":#]*CONTRIBUTING\.md"/g, 'href="contributing.html"')
    .replace(
      /href="([^":#]+)\.md(#[^"]*)?"/g,
      (_, name, place = "") => `href="${name.replace(/(^|\/)\.\.\/README$/, "$1index")}.html${place}"`,
    )
    .replace(/<a href="((?:\.\.\/)*(?:examples|packages|apps|scripts|bench)\/[^"]*)">(.*?)<\/a>/g, '<span title="$1">$2</span>')
    .replaceAll('href="docs/', 'href="')
    .replaceAll('src="docs/', 'src="');
}

rmSync(out, { recursive: true, force: true });
const staged = `${root}out/site-pages`;
rmSync(staged, { recursive: true, force: true });
mkdirSync(staged, { recursive: true });
cpSync(`${root}docs`, staged, { recursive: true, filter: (path) => !path.endsWith("/docs/api") });
copyFileSync(`${root}README.md`, `${staged}/index.md`);
copyFileSync(`${root}CONTRIBUTING.md`, `${staged}/contributing.md`);

const titles = {};
process.chdir(root);
const eleventy = new Eleventy(relative(root, staged), relative(root, out) || ".", {
  quietMode: true,
  configPath: null,
  config(config) {
    config.setUseGitIgnore(false);
    config.addPassthroughCopy({ [`${relative(root, staged)}/screenshots`]: "screenshots" });
    config.addGlobalData(
      "permalink",
      () =>
        ({ page: { filePathStem } }) =>
          `${filePathStem.slice(1)}.html`,
    );
    config.addPreprocessor("titles", "md", ({ page: { filePathStem } }, content) => {
      titles[filePathStem.slice(1)] = titleOf(content);
      return content;
    });
    config.setTemplateFormats(["md"]);
    // What stands in braces is of the language.
    config.addGlobalData("templateEngineOverride", "md");
    config.addTransform("page", function (content) {
      const here = this.page.outputPath
        .replace(`${relative(process.cwd(), out)}/`, "")
        .replace(`${out}/`, "")
        .replace(/^\.\//, "")
        .replace(/\.html$/, "");
      return page({ content: anchored(linked(content)), here, titles });
    });
  },
});
await eleventy.write();
rmSync(staged, { recursive: true, force: true });
console.log(`${Object.keys(titles).length} pages in ${relative(process.cwd(), out) || out}`);
