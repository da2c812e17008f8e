import type { Metadata } from "next";
import { ProveStep } from "@/features/prove/Prove";
import { stepRoute } from "../stepRoute";

export const dynamic = "force-dynamic";
export const metadata: Metadata = { title: "Prove" };

export default stepRoute("prove", ({ packed, prove }) => prove && <ProveStep packed={packed} prove={prove} />);
