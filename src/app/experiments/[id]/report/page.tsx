import type { Metadata } from "next";
import { ReportStep } from "@/features/judge/Report";
import { stepRoute } from "../stepRoute";

export const dynamic = "force-dynamic";
export const metadata: Metadata = { title: "Report" };

export default stepRoute(
  "report",
  ({ packed, report, worth }) => report && <ReportStep packed={packed} report={report} worth={worth} />,
);
