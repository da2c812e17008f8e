import type { Metadata } from "next";
import { RunsStep } from "@/features/run/Runs";
import { stepRoute } from "../stepRoute";

export const dynamic = "force-dynamic";
export const metadata: Metadata = { title: "Run" };

export default stepRoute("run", ({ packed }) => <RunsStep packed={packed} />);
