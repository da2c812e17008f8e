import { Chart } from "chart.js";
import zoom from "chartjs-plugin-zoom";

/** Zoom by dragging. Apart, because it comes when a pointer first reaches a chart; keys zoom without it. */
Chart.register(zoom);
