import type { Fault } from './faults';
import { eachPart } from './parts';
import type { System } from './schema';

/** Notes `id` as used at `path`, or a fault where it already stands elsewhere. */
export function unique(own: Map<string, string>, ids: Map<string, string>, id: string, path: string, faults: Fault[]) {
  const first = ids.get(id) ?? own.get(id);
  if (first !== undefined)
    faults.push({ path, message: `is "${id}" again (also at ${first}), expected an id unique in the file` });
  else own.set(id, path);
}

/** Faults of ids and references within one system, as found or with a proposal applied. */
export function systemFaults(system: System): Fault[] {
  const faults: Fault[] = [];
  const seen = new Map<string, string>();
  for (const { path, part } of eachPart(system)) unique(seen, new Map(), part.id, `${path}.id`, faults);

  const has = (list: { id: string }[] | null | undefined) => new Set((list ?? []).map((part) => part.id));
  const modules = has(system.moduleTypes);
  const controllers = has(system.controllers);
  const refer = (to: Set<string> | Map<string, string>, id: string | null | undefined, path: string, what: string) => {
    if (id !== null && id !== undefined && !to.has(id))
      faults.push({ path, message: `is "${id}", expected the id of ${what} in this system` });
  };
  (system.arrays ?? []).forEach((array, a) => {
    array.strings.forEach((string, s) =>
      string.forEach((module, m) => refer(modules, module, `system.arrays[${a}].strings[${s}][${m}]`, 'a module type')),
    );
    refer(controllers, array.controllerId, `system.arrays[${a}].controllerId`, 'a controller');
  });
  const converters = has(system.converters);
  const inverters = has(system.inverters);
  (system.loads ?? []).forEach((load, i) => {
    refer(converters, load.converterId, `system.loads[${i}].converterId`, 'a converter');
    refer(inverters, load.inverterId, `system.loads[${i}].inverterId`, 'an inverter');
  });
  const arrays = new Map((system.arrays ?? []).map((array) => [array.id, array]));
  (system.runs ?? []).forEach((run, i) => {
    refer(seen, run.from, `system.runs[${i}].from`, 'a part');
    refer(seen, run.to, `system.runs[${i}].to`, 'a part');
    const strings = arrays.get(run.from ?? '')?.strings.length ?? arrays.get(run.to ?? '')?.strings.length;
    (run.strings ?? []).forEach((index, s) => {
      if (strings !== undefined && index >= strings)
        faults.push({
          path: `system.runs[${i}].strings[${s}]`,
          message: `is ${index}, expected a string of that array, 0 to ${strings - 1}`,
        });
    });
  });
  const runs = has(system.runs);
  (system.distribution ?? []).forEach((box, i) =>
    (box.circuits ?? []).forEach((circuit, c) =>
      refer(runs, circuit, `system.distribution[${i}].circuits[${c}]`, 'a run'),
    ),
  );
  return faults;
}
