import type { Metadata } from "next";
import { SeasonChapter } from "@/features/apply/SeasonChapter";
import { ReportStep } from "@/features/judge/Report";
import { stepRoute } from "../stepRoute";

export const dynamic = "force-dynamic";
export const metadata: Metadata = { title: "Report" };

export default stepRoute(
  "report",
  ({ packed, report, worth, apply }) =>
    report && (
      <>
        <ReportStep packed={packed} report={report} worth={worth} />
        {apply && <SeasonChapter apply={apply} />}
      </>
    ),
);
