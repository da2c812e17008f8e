import type { Metadata } from "next";
import { Read } from "@/features/read/Read";
import { stepRoute } from "../stepRoute";

export const dynamic = "force-dynamic";
export const metadata: Metadata = { title: "Read" };

export default stepRoute("read", ({ view, predicted }) => <Read view={view} predicted={predicted} />);
