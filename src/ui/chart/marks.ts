import { Chart } from "chart.js";
import annotation from "chartjs-plugin-annotation";

// Few charts have spans or level lines; their plugin comes with the first that has.
Chart.register(annotation);
