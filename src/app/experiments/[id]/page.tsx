import { redirect } from "next/navigation";

export default async function ExperimentPage({ params }: { params: Promise<{ id: string }> }) {
  redirect(`/experiments/${(await params).id}/judge`);
}
