import type { Metadata } from "next";
import { BuildStep } from "@/features/build/BuildStep";
import { stepRoute } from "../stepRoute";

export const dynamic = "force-dynamic";
export const metadata: Metadata = { title: "Build" };

export default stepRoute("build", ({ variants, study }) => variants && <BuildStep view={variants} study={study} />);
