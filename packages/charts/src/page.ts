// A chart as a page that stands alone: it asks for nothing else, and a cursor in it reads every value.
import type { Chart } from "./chart.js";

/** What else stands on a page. */
export interface PageParts {
  readonly title?: string;
  /** HTML above the chart and below it. */
  readonly above?: string;
  readonly below?: string;
}

/** @param drawing the script that defines `echarts` */
export function toPage({ options, width, height, readings = [] }: Chart, drawing: string, parts: PageParts = {}): string {
  const {
    backgroundColor: ground = "#fff",
    textStyle,
    title,
  } = options as {
    backgroundColor?: string;
    textStyle?: { color?: string };
    title?: readonly { text?: string }[];
  };
  const ink = textStyle?.color ?? "#000";
  const named = parts.title ?? title?.[0]?.text ?? "Chart";
  const data = { options, readings };
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>${escapeHtml(named)}</title>
<style>${style(ground, ink)}</style>
</head>
<body>
${parts.above ?? ""}
<div class="sheet">
<div id="chart" style="height:${height}px;min-width:${Math.min(width, 640)}px" role="img" aria-label="${escapeHtml(named)}" tabindex="0"></div>
<section id="values" aria-live="off"${readings.length === 0 ? " hidden" : ""}><h2 id="when">Point at the chart, or use the arrow keys</h2><div id="list"></div></section>
</div>
${parts.below ?? ""}
<script>${drawing.replaceAll("</script", "<\\/script")}</script>
<script type="application/json" id="data">${JSON.stringify(data).replaceAll("<", "\\u003c")}</script>
<script>${cursor}</script>
</body>
</html>
`;
}

export function escapeHtml(text: string): string {
  return text.replace(/[&<>"]/g, (sign) => ({ "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;" })[sign] as string);
}

const style = (ground: string, ink: string) => `
:root{color-scheme:light dark}
body{margin:0;background:${ground};color:${ink};font:14px/1.45 "IBM Plex Sans",system-ui,sans-serif}
main,header,footer{max-width:1240px;margin:0 auto;padding:12px 20px}
h1{font-size:20px;margin:12px 0 2px}h2{font-size:15px;margin:20px 0 6px}
table{border-collapse:collapse;font-variant-numeric:tabular-nums}
th{font-weight:400;opacity:.7;text-align:right}th:first-child,td:first-child{text-align:left}
td,th{padding:2px 14px 2px 0;text-align:right;vertical-align:top}
.wide{overflow-x:auto}
pre{white-space:pre-wrap;font:13px/1.5 ui-monospace,monospace}
.sheet{display:grid;grid-template-columns:minmax(0,1fr) 250px;gap:8px;align-items:start}
#chart{outline-offset:-2px;overflow-x:auto}
#values{position:sticky;top:0;max-height:100vh;overflow:auto;padding:12px 14px 12px 0;font-size:13px}
#values[hidden]{display:none}#values h2{margin:4px 0 8px;font-size:14px}
#values h3{font-size:13px;margin:10px 0 2px}
#values dl{display:grid;grid-template-columns:1fr auto;gap:0 10px;margin:0}
#values dd{margin:0;text-align:right;font-variant-numeric:tabular-nums}
.dot{display:inline-block;width:11px;height:11px;border-radius:3px;border:1px solid currentColor;vertical-align:-1px}
@media (max-width:760px){.sheet{display:block}#values{position:static;max-height:none;padding:0 16px 20px}}
`;

/** Runs in the page: draws, and reads what stands at the cursor. */
const cursor = `(() => {
  const { options, readings } = JSON.parse(document.getElementById("data").textContent);
  const place = document.getElementById("chart");
  const chart = echarts.init(place, null, { renderer: "canvas" });
  const axes = [].concat(options.xAxis);
  const timed = axes[0] && axes[0].type === "time";
  chart.setOption(timed ? { ...options, dataZoom: [{ type: "inside", xAxisIndex: axes.map((_, axis) => axis), filterMode: "none" }] } : options);
  addEventListener("resize", () => chart.resize());
  if (!timed || readings.length === 0) return;
  const when = document.getElementById("when");
  const list = document.getElementById("list");
  const [from, to] = [axes[0].min, axes[0].max];
  let now = from;
  const indexAt = (times, at) => {
    let low = 0, high = times.length;
    while (low < high) { const middle = (low + high) >> 1; if (times[middle] <= at) low = middle + 1; else high = middle; }
    return low - 1;
  };
  const text = (one, at) => {
    const index = indexAt(one.times, at);
    if (one.texts) return index < 0 ? undefined : one.texts[index];
    const value = index < 0 ? null : one.values[index];
    if (value === null || value === undefined) return "unknown";
    if (one.words) return one.words[value];
    if (one.colour) return "#" + value.toString(16).padStart(6, "0");
    const size = Math.abs(value);
    const shown = Number.isInteger(value) ? String(value) : value.toFixed(size >= 100 ? 0 : size >= 10 ? 1 : 2);
    return one.unit ? shown + " " + one.unit : shown;
  };
  const day = new Intl.DateTimeFormat("en-GB", { weekday: "short", day: "numeric", month: "short", hour: "2-digit", minute: "2-digit", second: "2-digit", timeZone: "UTC" });
  const show = (at) => {
    now = Math.min(to, Math.max(from, at));
    when.textContent = day.format(now);
    list.replaceChildren();
    let section;
    let entries;
    for (const one of readings) {
      const said = text(one, now);
      if (said === undefined) continue;
      if (one.section !== section) {
        section = one.section;
        const heading = document.createElement("h3");
        heading.textContent = section;
        entries = document.createElement("dl");
        list.append(heading, entries);
      }
      const name = document.createElement("dt");
      name.textContent = one.name;
      const value = document.createElement("dd");
      value.textContent = said;
      if (one.colour && said !== "unknown") {
        const dot = document.createElement("span");
        dot.className = "dot";
        dot.style.background = said;
        value.prepend(dot, " ");
      }
      entries.append(name, value);
    }
  };
  const point = () => {
    const x = chart.convertToPixel({ xAxisIndex: 0 }, now);
    chart.dispatchAction({ type: "updateAxisPointer", currTrigger: "mousemove", x, y: options.grid[0].top + 5 });
  };
  chart.getZr().on("mousemove", ({ offsetX }) => {
    const at = chart.convertFromPixel({ xAxisIndex: 0 }, offsetX);
    if (Number.isFinite(at)) show(at);
  });
  // Values that are read stay when a pointer leaves, and so does the cursor.
  chart.getZr().on("globalout", () => queueMicrotask(point));
  place.addEventListener("keydown", (event) => {
    const step = { ArrowLeft: -1, ArrowRight: 1, PageUp: -12, PageDown: 12 }[event.key];
    if (step === undefined) return;
    event.preventDefault();
    show(now + (step * (to - from)) / 288);
    point();
  });
})();`;
