import type { Metadata } from "next";
import { Upcoming } from "@/features/experiment/Upcoming";
import { stepRoute } from "../stepRoute";

export const dynamic = "force-dynamic";
export const metadata: Metadata = { title: "Apply" };

export default stepRoute("apply", ({ view: { head } }) => <Upcoming step="apply" experimentId={head.id} />);
