import type { Metadata } from "next";
import { AskStep } from "@/features/ask/Ask";
import { stepRoute } from "../stepRoute";

export const dynamic = "force-dynamic";
export const metadata: Metadata = { title: "Ask" };

export default stepRoute("ask", ({ packed, variants }) => variants && <AskStep packed={packed} variants={variants} />);
