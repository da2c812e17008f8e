import type { Metadata } from "next";
import { Runs } from "@/features/run/Runs";
import { stepRoute } from "../stepRoute";

export const dynamic = "force-dynamic";
export const metadata: Metadata = { title: "Run" };

export default stepRoute("run", ({ view }) => <Runs view={view} />);
