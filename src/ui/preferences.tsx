"use client";

import { createContext, useContext, type ReactNode } from "react";
import type { UnitSystem } from "@/core/quantity/quantities";

interface Preferences {
  system: UnitSystem;
}

const PreferencesContext = createContext<Preferences>({ system: "metric" });

/** What the person chose for reading: units. Theme needs no script, it is set on the page's root by the server. */
export function PreferencesProvider({ system, children }: Preferences & { children: ReactNode }) {
  return <PreferencesContext.Provider value={{ system }}>{children}</PreferencesContext.Provider>;
}

export const usePreferences = (): Preferences => useContext(PreferencesContext);
