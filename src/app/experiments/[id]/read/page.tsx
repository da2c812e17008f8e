import type { Metadata } from "next";
import { ReadStep } from "@/features/read/Read";
import { stepRoute } from "../stepRoute";

export const dynamic = "force-dynamic";
export const metadata: Metadata = { title: "Read" };

export default stepRoute("read", ({ packed, predicted }) => <ReadStep packed={packed} predicted={predicted} />);
