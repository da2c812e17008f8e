import type { Metadata } from "next";
import { Prove } from "@/features/prove/Prove";
import { stepRoute } from "../stepRoute";

export const dynamic = "force-dynamic";
export const metadata: Metadata = { title: "Prove" };

export default stepRoute("prove", ({ view, prove }) => prove && <Prove view={view} prove={prove} />);
