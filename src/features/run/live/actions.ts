"use server";

import { act, type ArgsOf } from "@/features/act";
import {
  acknowledgeAlarm as acknowledging,
  changeUnit as changing,
  deleteEvent as deleting,
  editEvent as editing,
  endRun as ending,
  followThePlan as following,
  pauseRun as pausing,
  reopenRun as reopening,
  resumeRun as resuming,
} from "@/services/live/commands";

export async function pauseRun(...args: ArgsOf<typeof pausing>) {
  return act(pausing, args);
}
export async function resumeRun(...args: ArgsOf<typeof resuming>) {
  return act(resuming, args);
}
export async function endRun(...args: ArgsOf<typeof ending>) {
  return act(ending, args);
}
export async function followThePlan(...args: ArgsOf<typeof following>) {
  return act(following, args);
}
export async function reopenRun(...args: ArgsOf<typeof reopening>) {
  return act(reopening, args);
}
export async function editEvent(...args: ArgsOf<typeof editing>) {
  return act(editing, args);
}
export async function deleteEvent(...args: ArgsOf<typeof deleting>) {
  return act(deleting, args);
}
export async function acknowledgeAlarm(...args: ArgsOf<typeof acknowledging>) {
  return act(acknowledging, args);
}
export async function changeUnit(...args: ArgsOf<typeof changing>) {
  return act(changing, args);
}
