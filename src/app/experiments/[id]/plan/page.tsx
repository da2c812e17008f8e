import type { Metadata } from "next";
import { Plan } from "@/features/plan/Plan";
import { stepRoute } from "../stepRoute";

export const dynamic = "force-dynamic";
export const metadata: Metadata = { title: "Plan" };

export default stepRoute("plan", ({ plan }) => plan && <Plan plan={plan} />);
