// Drawing a chart description: as SVG text anywhere, or into an element of a page.
import { LineChart, LinesChart, ScatterChart } from "echarts/charts";
import {
  GridComponent,
  LegendComponent,
  MarkAreaComponent,
  MarkLineComponent,
  TitleComponent,
  TooltipComponent,
} from "echarts/components";
import { type ECharts, init, use } from "echarts/core";
import { SVGRenderer } from "echarts/renderers";
import type { Chart } from "./chart.js";
import type { ChartDescription } from "./sheet.js";

use([
  LineChart,
  LinesChart,
  ScatterChart,
  GridComponent,
  LegendComponent,
  MarkAreaComponent,
  MarkLineComponent,
  TitleComponent,
  TooltipComponent,
  SVGRenderer,
]);

/** An SVG document of a chart. */
export function toSvg({ options, width, height }: Chart): string {
  const drawing = init(null, null, { renderer: "svg", ssr: true, width, height });
  drawing.setOption(options);
  const svg = drawing.renderToSVGString();
  // Left alive, it would keep the process from ending.
  drawing.dispose();
  return svg;
}

/** A drawing in an element. */
export interface Drawing extends Pick<ECharts, "dispose" | "getZr" | "convertFromPixel"> {
  /** Draws a chart in the place of the one before, as large as its element is now. */
  draw(options: ChartDescription): void;
  /** Takes the size that its element has now; where it has it, nothing is drawn anew. */
  fit(): void;
  /** Draws its cursor at an instant of the axis, as a pointer would. */
  point(at: number): void;
}

/** A drawing in an element of a page. */
export function drawIn(element: HTMLElement): Drawing {
  const drawing = init(element, null, { renderer: "svg" });
  /** Pixels from the top to where curves begin. */
  let top = 0;
  const fits = () => drawing.getWidth() === element.clientWidth && drawing.getHeight() === element.clientHeight;
  const made = {
    draw(options: ChartDescription) {
      const [grid] = [options.grid].flat() as readonly ({ readonly top?: number } | undefined)[];
      top = grid?.top ?? 0;
      // The surface alone: what goes anyway is not drawn once more in the new size.
      if (!fits()) drawing.getZr().resize();
      drawing.setOption(options, true);
    },
    fit() {
      if (!fits()) drawing.resize();
    },
    point(at: number) {
      const x = drawing.convertToPixel({ xAxisIndex: 0 }, at) as unknown as number;
      drawing.dispatchAction({ type: "updateAxisPointer", currTrigger: "mousemove", x, y: top + 5 });
    },
  };
  return Object.assign(drawing, made);
}
