"use client";

import dynamic from "next/dynamic";
import { SHEET } from "@/words/sheet";

/** The sheet lives on a draft kept in the browser, so it is drawn there only. */
export const SheetPage = dynamic(() => import("./Sheet"), {
  ssr: false,
  loading: () => <h1 className="sentence px-4 py-4 sm:px-6">{SHEET.empty}</h1>,
});
