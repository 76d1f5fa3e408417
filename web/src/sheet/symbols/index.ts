import type { Sheet } from "../../circuit/types";
import * as contacts from "./contacts";
import * as loads from "./loads";
import { lying } from "./lying";
import * as modules from "./modules";
import * as nema from "./nema";
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
  supply_1: loads.supply1,
  transformer: loads.transformer,
  fuse_1: contacts.fuse(1),
  fuse_2: contacts.fuse(2),
  fuse_3: contacts.fuse(3),
  motor_starter_3: contacts.motorStarter3,
  monitor_3: loads.monitor3,
  changeover: contacts.changeoverContact,
  timer_coil: loads.timerCoil,
  timer_changeover: contacts.timerChangeover,
  star_delta_contacts: contacts.starDeltaContacts,
  emergency_no: contacts.emergencyNo,
  emergency_nc: contacts.emergencyNc,
  turn_no: contacts.turnNo,
  turn_nc: contacts.turnNc,
  limit_no: contacts.limitNo,
  limit_nc: contacts.limitNc,
  float_no: contacts.floatNo,
  float_nc: contacts.floatNc,
  pressure_no: contacts.pressureNo,
  pressure_nc: contacts.pressureNc,
  temperature_no: contacts.temperatureNo,
  temperature_nc: contacts.temperatureNc,
  horn: loads.horn,
  solenoid: loads.solenoid,
  motor_6: loads.motor6,
  power_supply: modules.powerSupply,
  meter_supply: modules.meterSupply,
  plc_supply: modules.plcSupply,
  plc_inputs: modules.plcInputs,
  plc_outputs: modules.plcOutputs,
  sensor_2: modules.sensor2,
  sensor_3: modules.sensor3,
  transformer_tapped: modules.transformerTapped,
  current_transformer: modules.currentTransformer,
  ammeter: modules.ammeter,
  terminal_shorting: modules.terminalShorting,
  mechanical_interlock: modules.mechanicalInterlock,
  up_down: modules.upDown,
  up_down_b: modules.upDownB,
  motor_1: modules.motor1,
};

/** Those that are drawn otherwise in North America. */
const NEMA: typeof SYMBOLS = {
  isolator_3: nema.disconnect3,
  breaker_1: nema.breaker(1),
  breaker_2: nema.breaker(2),
  breaker_3: nema.breaker(3),
  breaker_4: nema.breaker(4),
  motor_starter_3: nema.motorStarter3,
  fuse_1: nema.fuse(1),
  fuse_2: nema.fuse(2),
  fuse_3: nema.fuse(3),
  contactor_3: nema.contactor3,
  contact_no: nema.contactNo,
  contact_nc: nema.contactNc,
  coil: nema.coil,
  timer_coil: nema.timerCoil,
  heater_3: nema.heater3,
  thermal_nc: nema.thermalNc,
  thermal_no: nema.thermalNo,
  push_no: nema.pushNo,
  push_nc: nema.pushNc,
  emergency_no: nema.emergencyNo,
  emergency_nc: nema.emergencyNc,
  turn_no: nema.turnNo,
  turn_nc: nema.turnNc,
  limit_no: nema.limitNo,
  limit_nc: nema.limitNc,
  float_no: nema.floatNo,
  float_nc: nema.floatNc,
  pressure_no: nema.pressureNo,
  pressure_nc: nema.pressureNc,
  temperature_no: nema.temperatureNo,
  temperature_nc: nema.temperatureNc,
  changeover: nema.changeover,
  timer_changeover: nema.timerChangeover,
  star_delta_contacts: nema.starDelta,
  lamp: nema.lamp,
  solenoid: nema.solenoid,
  transformer: nema.transformer,
};

const UPRIGHT = { iec: SYMBOLS, nema: { ...SYMBOLS, ...NEMA } } as const;
/** As they stand in a rung. */
const LYING: typeof SYMBOLS = Object.fromEntries(
  Object.entries(UPRIGHT.nema).map(([name, drawing]) => [name, lying(drawing)]),
);

/** Does a sheet have rungs from left to right? Control sheets of the North American convention do. */
export const hasRungs = (sheet: Pick<Sheet, "convention" | "kind">): boolean =>
  sheet.convention === "nema" && sheet.kind === "control";

/** How a symbol is drawn on a sheet. */
export const symbolOn = (
  sheet: Pick<Sheet, "convention" | "kind">,
  symbol: string,
): SymbolDrawing | undefined => (hasRungs(sheet) ? LYING : UPRIGHT[sheet.convention])[symbol];

/** All sets of symbols, for those who look at every one of them. */
export const SETS = { iec: SYMBOLS, nema: UPRIGHT.nema, rung: LYING } as const;
