/** Runs once as the application starts: live runs are watched whether or not anybody looks. */
export async function register(): Promise<void> {
  if (process.env.NEXT_RUNTIME !== "nodejs" || !process.env.BRAVEL_DATABASE_URL) return;
  const { startWatching } = await import("./services/live/watchman");
  startWatching();
}
