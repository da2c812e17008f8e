export { instrumentHistory as historyOf } from "../../data/instrument/instruments";
