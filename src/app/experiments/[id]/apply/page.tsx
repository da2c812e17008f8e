import type { Metadata } from "next";
import { Apply } from "@/features/apply/Apply";
import { stepRoute } from "../stepRoute";

export const dynamic = "force-dynamic";
export const metadata: Metadata = { title: "Apply" };

export default stepRoute("apply", ({ apply }) => apply && <Apply apply={apply} />);
