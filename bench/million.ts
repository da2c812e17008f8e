import { importMillion } from "./import";

await importMillion();
