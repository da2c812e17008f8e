import { boughtModule } from "./boughtModule";
import { columns } from "./columns";
import { corrugated } from "./corrugated";
import { ductCoil } from "./ductCoil";
import { evacuatedTubes } from "./evacuatedTubes";
import { fins } from "./fins";
import { flat } from "./flat";
import type { Form } from "./form";
import { hose } from "./hose";
import { masonry } from "./masonry";
import { mesh } from "./mesh";

import { perforated } from "./perforated";
import { tubeSheet } from "./tubeSheet";

/** Every absorber form, in the order people are offered them. */
export const FORMS = {
  flat,
  corrugated,
  fins,
  mesh,
  columns,
  ductCoil,
  hose,
  tubeSheet,
  perforated,
  masonry,
  evacuatedTubes,
  boughtModule,
} satisfies Record<string, Form>;
export type AbsorberForm = keyof typeof FORMS;
export const ABSORBER_FORMS = Object.keys(FORMS) as [AbsorberForm, ...AbsorberForm[]];

export const formOf = ({ form }: { form: AbsorberForm }): Form => FORMS[form];
