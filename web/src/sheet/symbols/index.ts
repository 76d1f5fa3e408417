import * as contacts from "./contacts";
import * as loads from "./loads";
import type { SymbolDrawing } from "./shapes";

/** Every symbol that a part of the catalogue can name. */
export const SYMBOLS: Readonly<Record<string, SymbolDrawing>> = {
  supply_3: loads.supply3,
  isolator_3: contacts.isolator3,
  breaker_1: contacts.breaker(1),
  breaker_2: contacts.breaker(2),
  breaker_3: contacts.breaker(3),
  breaker_4: contacts.breaker(4),
  contactor_3: contacts.contactor3,
  contact_no: contacts.contactNo,
  contact_nc: contacts.contactNc,
  coil: loads.coil,
  heater_3: loads.heater3,
  thermal_nc: contacts.thermalNc,
  thermal_no: contacts.thermalNo,
  push_no: contacts.pushNo,
  push_nc: contacts.pushNc,
  lamp: loads.lamp,
  motor_3: loads.motor3,
  terminal: loads.terminal,
};
