"use server";

import { act, type ArgsOf } from "@/features/act";
import { addViewer as adding, endViewer as ending } from "@/services/network/network";
import * as people from "@/services/network/people";

export async function addViewer(...args: ArgsOf<typeof adding>) {
  return act(adding, args);
}
export async function endViewer(...args: ArgsOf<typeof ending>) {
  return act(ending, args);
}
export async function addPerson(...args: ArgsOf<typeof people.addPerson>) {
  return act(people.addPerson, args);
}
export async function setPassphrase(...args: ArgsOf<typeof people.setPassphrase>) {
  return act(people.setPassphrase, args);
}
export async function changeOwnPassphrase(...args: ArgsOf<typeof people.changeOwnPassphrase>) {
  return act(people.changeOwnPassphrase, args);
}
export async function removePerson(...args: ArgsOf<typeof people.removePerson>) {
  return act(people.removePerson, args);
}
export async function endSession(...args: ArgsOf<typeof people.endSession>) {
  return act(people.endSession, args);
}
