import type { Metadata } from "next";
import { Ask } from "@/features/ask/Ask";
import { stepRoute } from "../stepRoute";

export const dynamic = "force-dynamic";
export const metadata: Metadata = { title: "Ask" };

export default stepRoute("ask", ({ view, variants }) => variants && <Ask view={view} variants={variants} />);
