import type { Metadata } from "next";
import { Judge } from "@/features/judge/Judge";
import { stepRoute } from "../stepRoute";

export const dynamic = "force-dynamic";
export const metadata: Metadata = { title: "Judge" };

export default stepRoute("judge", ({ view }) => <Judge view={view} />);
