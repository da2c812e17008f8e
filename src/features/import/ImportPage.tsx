"use client";

import dynamic from "next/dynamic";
import { NO_FILES } from "./words";

/** The wizard lives on a draft kept in the browser, so it is drawn there only. */
export const ImportPage = dynamic(() => import("./Importer"), {
  ssr: false,
  loading: () => <h1 className="sentence px-4 py-4 sm:px-6">{NO_FILES}</h1>,
});
