import type { Metadata } from "next";
import { JudgeStep } from "@/features/judge/Judge";
import { stepRoute } from "../stepRoute";

export const dynamic = "force-dynamic";
export const metadata: Metadata = { title: "Judge" };

export default stepRoute("judge", ({ packed, versions, worth, reading }) => (
  <JudgeStep packed={packed} versions={versions} worth={worth} reading={reading} />
));
