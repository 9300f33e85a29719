import {
  cautionsOf,
  check,
  neededFor,
  remediesOf,
  RULES,
  schoolOf,
  type Finding,
  type Model,
  type System,
} from '../src/index';
import { find, hut, hutRuns, part, sunny, wired } from './hut';

/** Verdicts, remedies and limits, figure by figure and each by its own way. */

describe('which limit cures', () => {
  const by = (limit: 'load' | 'charge' | false) =>
    RULES.filter((rule) => rule.curedByLimit === limit).map(({ id }) => id);
  test('less load: what runs and what carries it', () =>
    expect(by('load')).toEqual([
      'bank.discharge',
      'bank.surge',
      'bank.n-1',
      'inverter.continuous',
      'inverter.apparent',
      'inverter.surge',
      'system.sag',
      'controller.load-output',
      'run.ampacity',
      'run.fuse-carries',
      'monitor.shunt',
    ]));
  test('less charge: what is pushed into the bank, or asked of what pushes', () =>
    expect(by('charge')).toEqual(['bank.charge-max', 'bank.cold-charge', 'charger.input', 'alternator.load']));
  test('no limit gives energy, feeds a load, moves a fuse, makes a slot, or answers what only eyes can tell', () =>
    expect(by(false).filter((id) => !id.startsWith('observed.'))).toEqual([
      'bank.health',
      'bank.autonomy',
      'energy.worst-month',
      'energy.refill',
      'energy.layup',
      'load.unserved',
      'run.selectivity',
      'distribution.slots',
    ]));
  test('nothing that only eyes can tell is cured by a limit', () =>
    expect(
      RULES.filter(({ id }) => id.startsWith('observed.')).every(({ curedByLimit }) => curedByLimit === false),
    ).toBe(true));
});

describe('where no change of ours cures', () => {
  const of = (more: Partial<Finding>) => neededFor(hut(), { ...find(hut(), 'pv.input-current')!, ...more });
  test('what would be needed, by its own two figures', () => {
    expect(of({ demand: 50, limit: 40, unit: 'A', sense: 'max', tightAbove: 0.8 })).toBe(
      'Needs 62.5 A or more at the controller, or its load brought down to 32 A.',
    );
    expect(of({ demand: 50, limit: 40, unit: 'A', sense: 'max', tightAbove: null })).toBe(
      'Needs 50 A or more at the controller, or its load brought down to 40 A.',
    );
    expect(of({ demand: 12, limit: 15, unit: 'V', sense: 'min', tightAbove: 0.75 })).toBe(
      'Needs 20 V or more at the controller; it has 12 V.',
    );
    expect(of({ demand: null })).toBe(
      'Needs the controller checked on site: read its nameplate and manual, then check again.',
    );
  });
});

describe('by hand', () => {
  test('an inverter that idles: as many hours as leave it half of what is allowed', () => {
    // 20 W all day are 480 Wh; the sun brings what the finding says: the hours follow from its own two figures.
    const model = wired((system) => {
      system.inverters![0]!.idle_W = 20;
    });
    sunny(model).site.occupiedMonths = [6, 7];
    const finding = find(model, 'inverter.idle')!;
    const hours = Math.floor((24 * 0.5 * finding.limit!) / finding.demand!);
    expect(finding.demand).toBeGreaterThan(10);
    const [remedy] = remediesOf(model, finding, check(model));
    expect(remedy?.title).toBe(`Switch it on for no more than ${hours} h a day`);
    expect(remedy?.changes[0]?.value).toEqual({ idleHours_d: hours });
  });
  test('a board with a circuit too many: the next that is sold', () => {
    const board = (slots: number, circuits: number) => {
      const model = wired((system) => {
        system.runs = [
          ...system.runs!,
          ...Array.from({ length: circuits }, (_, n) => ({
            id: `x${n}`,
            kind: 'dc-load' as const,
            from: 'box',
            to: 'l',
            length_m: 1,
            size: '2.5mm2',
          })),
        ];
        system.distribution = [
          {
            id: 'box',
            label: 'Box',
            slots,
            rating_A: 200,
            circuits: Array.from({ length: circuits }, (_, n) => `x${n}`),
          },
        ];
      });
      const finding = find(model, 'distribution.slots')!;
      return remediesOf(model, finding, check(model)).map(({ title }) => title);
    };
    expect(board(2, 3)).toEqual(['A board with 4 ways instead of Box']);
    expect(board(4, 5)).toEqual(['A board with 6 ways instead of Box']);
    expect(board(12, 13)).toEqual(['A board with 16 ways instead of Box']);
  });
  test('the air at a cable that nobody recorded is a guess, and is said to be one', () => {
    const assumed = (ambient_C: number | null | undefined) =>
      find(
        wired((system) => {
          if (ambient_C !== undefined) system.runs![1]!.ambient_C = ambient_C;
        }),
        'run.ampacity',
      ) &&
      check(
        wired((system) => {
          if (ambient_C !== undefined) system.runs![1]!.ambient_C = ambient_C;
        }),
      )
        .filter(({ rule, subject }) => rule === 'run.ampacity' && subject === 'r2')
        .flatMap((one) => one.assumed)
        .includes('r2.ambient_C');
    expect([assumed(undefined), assumed(null), assumed(40)]).toEqual([true, true, false]);
  });
  test('a controller that holds itself back says how much it clips, and only then', () => {
    const clipped = (maxOutput_A: number) =>
      find(
        hut((system) => Object.assign(part.controller(system), { maxOutput_A })),
        'pv.output-current',
      )!.working.some((line) => line.includes('limits itself to'));
    // Two modules of 100 W push 200 W / 12 V = 16.7 A.
    expect([clipped(15), clipped(20)]).toEqual([true, false]);
  });
  test('a finding that no school decides has none', () => {
    const model = hut();
    const all = check(model);
    const decided = all.find(({ school }) => school !== undefined)!;
    expect(schoolOf(model, decided)?.path).toBeTruthy();
    const { school: _, ...undecided } = decided;
    expect(schoolOf(model, undecided)).toBeNull();
  });
});

describe('a fuse for fewer volts than its cable carries', () => {
  const fuse = (voltage_V: number) => ({
    type: 'blade' as const,
    rating_A: 30,
    voltage_V,
    fromSource_m: 0.1,
    dcRated: true,
  });
  const verdict = (model: Model, subject: string) =>
    check(model).find((one) => one.rule === 'run.dc-rating' && one.subject === subject)?.verdict;
  const withRun = (run: object, change: (system: System) => void = () => undefined) =>
    wired((system) => {
      system.runs = [...hutRuns(), { length_m: 2, size: '6mm2', ...run } as never];
      change(system);
    });
  // Two modules of 20 V at -15 degC: 2 x 20 V x (1 + 0.3 % x 40 K) = 44.8 V. No stage of charge lowers that.
  test.each([
    [30, 'over'],
    [44, 'over'],
    [45, 'holds'],
  ])('of the modules, for %d V: %s', (volts, is) =>
    expect(verdict(withRun({ id: 'p', kind: 'pv', from: 'a', to: 'c', protection: fuse(volts) }), 'p')).toBe(is),
  );
  // Behind a converter to 24 V.
  test.each([
    [15, 'over'],
    [24, 'holds'],
  ])('of a converter\u2019s output, for %d V: %s', (volts, is) =>
    expect(
      verdict(
        withRun({ id: 'o', kind: 'dc-load', from: 'v', to: 'l', protection: fuse(volts) }, (system) => {
          system.converters = [{ id: 'v', in_V: 12, out_V: 24, max_A: 10 }];
          system.loads = [{ id: 'l', label: 'L', kind: 'dc', power_W: 30, hours_d: 1, converterId: 'v' }];
          system.runs!.push({ id: 'in', kind: 'converter', from: 'b', to: 'v', length_m: 1, size: '6mm2' });
        }),
        'o',
      ),
    ).toBe(is),
  );
  // From a vehicle of 12 V: its alternator takes it to 15.
  test.each([
    [14, 'over'],
    [15, 'holds'],
  ])('of a DC-DC charger\u2019s input, for %d V: %s', (volts, is) =>
    expect(
      verdict(
        withRun({ id: 'n', kind: 'charger', from: 'o', to: 'd', protection: fuse(volts) }, (system) => {
          system.chargers = [{ id: 'd', kind: 'dc-dc', max_A: 30, input_V: 12 }];
          system.otherBanks = [{ id: 'o', role: 'starter', chemistry: 'flooded', nominal_V: 12, joinedBy: 'dc-dc' }];
          system.runs!.push({ id: 'out', kind: 'charger', from: 'd', to: 'b', length_m: 1, size: '6mm2' });
        }),
        'n',
      ),
    ).toBe(is),
  );
  // Of the bank: between float and boost it is close, and said to be; below float it is over.
  test('of the bank: tight while only the boost goes beyond it', () => {
    const of = (volts: number) =>
      verdict(
        wired((system) => void (system.runs![0]!.protection = fuse(volts))),
        'r1',
      );
    expect([of(13), of(14), of(32)]).toEqual(['over', 'tight', 'holds']);
  });
});

test('what is needed where nothing lets go: a device with a setting, or before DC loads a disconnect', () => {
  const finding = { ...find(hut(), 'pv.input-current')!, rule: 'bank.deep-discharge' as const };
  expect(neededFor(hut(), { ...finding, quantity: 'loads' })).toContain('before the DC loads');
  expect(neededFor(hut(), { ...finding, quantity: 'i' })).toContain('a device whose cut-off can be set');
});

describe('remedies, figure by figure', () => {
  const cures = (model: Model, rule: string, quantity?: string) => {
    const finding = find(model, rule, quantity)!;
    return remediesOf(model, finding, check(model)).map(({ title, changes }) => [
      title,
      changes.map(({ value }) => value),
    ]);
  };
  test('a smaller inverter is smaller in every way: volt-amperes and its peak too', () => {
    const model = wired((system) => {
      Object.assign(system.inverters![0]!, { continuous_W: 3000, continuous_VA: 3200, surge_W: 9000 });
      Object.assign(system.bank!, { chemistry: 'lfp', block_V: 12.8, maxDischarge_A: 100 });
    });
    // 100 A at 10.5 V through 90 % are 945 W: the next below that is sold.
    expect(cures(model, 'bank.discharge')).toEqual([
      ['An inverter of 800 W in place of Inv', [{ continuous_W: 800, continuous_VA: 800, surge_W: 1600 }]],
    ]);
    Object.assign(model.system.inverters![0]!, { continuous_VA: 700, surge_W: 900 });
    expect(cures(model, 'bank.discharge')[0]![1]).toEqual([{ continuous_W: 800, continuous_VA: 700, surge_W: 900 }]);
  });
  test('two blocks in series absorb at twice the volts: twelve cells of 2.43 V', () => {
    const model = wired((system) => {
      system.nominal_V = 24;
      Object.assign(system.bank!, { series: 2 });
      Object.assign(part.controller(system), { maxBattery_V: 64, settings: { absorb_V: 14.4 } });
      system.chargers = [{ id: 'ch', kind: 'mains', max_A: 10, settings: { absorb_V: 28.8 } }];
    });
    const [[title, values] = []] = cures(model, 'settings.agree');
    expect(title).toBe('Absorb at 29.2 V on Controller, Mains charger');
    expect(values).toEqual([{ settings: { absorb_V: 29.2 } }, { settings: { absorb_V: 29.2 } }]);
  });
  test('a fuse "at the battery terminal" still leaves a lug\u2019s length, 5 cm', () => {
    const model = wired();
    model.schools.sourceEnd_m = 0;
    expect(find(model, 'run.source-end')).toMatchObject({ demand: 0.1, limit: 0.05, verdict: 'over' });
    expect(cures(model, 'run.source-end')).toEqual([
      ['Move the fuse to the source', [{ protection: { fromSource_m: 0.05 } }]],
      ['Protect the cable up to its fuse', [{ sheathed: true }]],
    ]);
  });
  test('an input with a quarter to spare: 40 A of the array want 50 A of the controller', () => {
    const model = wired((system) => Object.assign(part.module(system), { isc_A: 40, imp_A: 38, pmax_W: 620 }));
    expect(cures(model, 'pv.input-current')).toEqual([['Controller with an input of 50 A or more', [{ maxPv_A: 50 }]]]);
  });
  test('a controller for what the array pushes, which also holds itself back', () => {
    const model = wired((system) => Object.assign(part.controller(system), { maxOutput_A: 10 }));
    expect(cures(model, 'pv.output-current')).toEqual([
      ['Controller for 20 A or more', [{ maxOutput_A: 20, limitsOutput: true }]],
    ]);
  });
  test('equalising and compensation are off on lithium, not at some volts', () => {
    const model = wired((system) => {
      Object.assign(system.bank!, { chemistry: 'lfp', block_V: 12.8 });
      Object.assign(part.controller(system), {
        profiles: ['custom', 'lfp'],
        settings: { absorb_V: 14.2, equalise_V: 15, comp_mV_K_cell: -4 },
      });
    });
    expect(cures(model, 'settings', 'equalise_V')).toEqual([
      ['Set equalising of Controller to 0, off', [{ settings: { equalise_V: 0 } }]],
    ]);
    expect(cures(model, 'settings', 'comp_mV_K_cell')).toEqual([
      ['Set temperature compensation of Controller to 0, off', [{ settings: { comp_mV_K_cell: 0 } }]],
    ]);
  });
  test('a switch for 1,700 W at 10 V through 90 %, 188.9 A: the next that is sold is of 200 A', () => {
    const model = wired((system) => {
      system.switches = [
        { id: 'sw', kind: 'isolator', runId: 'r1', rating_A: 100, label: 'Sw', dcRated: true, voltage_V: 60 },
      ];
      Object.assign(system.inverters![0]!, { continuous_W: 1700 });
    });
    expect(find(model, 'switch.rating', 'current')!.demand).toBeCloseTo(1700 / 10 / 0.9, 9);
    expect(cures(model, 'switch.rating', 'current')).toEqual([['Sw for 200 A', [{ rating_A: 200 }]]]);
  });
});

describe('each by its own way', () => {
  test('an inverter\u2019s idling is its own and nothing besides: twice the watts, twice the share', () => {
    const share = (idle_W: number) => {
      const model = wired((system) => {
        system.inverters![0]!.idle_W = idle_W;
      });
      return find(sunny(model), 'inverter.idle')!.demand!;
    };
    expect(share(10) / share(5)).toBeCloseTo(2, 9);
  });
  test('of two inverters each sags through its own cable', () => {
    const sag = (length_m: number, id: string) =>
      check(
        wired((system) => {
          system.inverters!.push({ ...system.inverters![0]!, id: 'i2' });
          system.loads!.push({ ...system.loads![0]!, id: 'l2', inverterId: 'i2' });
          system.runs!.push({ id: 'r9', kind: 'battery-inverter', from: 'b', to: 'i2', length_m, size: '16mm2' });
        }),
      ).find(({ rule, subject, quantity }) => rule === 'system.sag' && subject === id && quantity === 'running')!
        .demand!;
    expect(sag(10, 'i')).toBe(sag(1, 'i'));
    expect(sag(1, 'i2') - sag(10, 'i2')).toBeGreaterThan(0.5);
  });
  test('a DC-DC charger on 24 V may lose what its engine leaves above its least: 27.6 V against 22', () => {
    const model = wired((system) => {
      system.chargers = [{ id: 'd', kind: 'dc-dc', max_A: 30, input_V: 24, inputMin_V: 22 }];
      system.otherBanks = [{ id: 'o', role: 'starter', chemistry: 'flooded', nominal_V: 24, joinedBy: 'dc-dc' }];
      system.runs!.push(
        { id: 'in', kind: 'charger', from: 'o', to: 'd', length_m: 5, size: '6mm2' },
        { id: 'out', kind: 'charger', from: 'd', to: 'b', length_m: 1, size: '6mm2' },
      );
    });
    const drop = check(model).find(({ rule, subject }) => rule === 'run.drop' && subject === 'in')!;
    expect(drop.working[0]).toBe('of 27.6 V with the engine running the charger needs 22 V: 23.33 % may be lost');
    // Of 24 V: the loss in volts is the same share of them.
    expect(drop.limit).toBe(6);
  });
  test('a generator makes up what the sun does not bring, where its watts are known: at eight tenths of them', () => {
    const working = (sources: object[]) => {
      const model = wired((system) => {
        system.sources = sources as never;
        system.loads!.push({ id: 'big', label: 'B', kind: 'dc', power_W: 100, hours_d: 24 });
      });
      const { demand, limit, working: lines } = find(sunny(model), 'energy.worst-month')!;
      return { lacking: limit! - demand!, said: lines.filter((line) => line.includes('generator')) };
    };
    const { lacking, said } = working([{ id: 'g', kind: 'generator', power_W: 2000 }]);
    const hours = Number(/: ([\d.]+) h a day/.exec(said[0]!)![1]);
    expect(hours).toBeCloseTo(lacking / (0.8 * 2000), 3);
    expect(working([{ id: 'g', kind: 'generator' }]).said).toEqual([]);
    expect(working([]).said).toEqual([]);
  });
});

describe('a larger inverter', () => {
  /** A bank, a cable and a fuse that feed one of 1,500 W. */
  const strong = (change: (system: System) => void): Model =>
    wired((system) => {
      Object.assign(system.runs![0]!, {
        size: '120mm2',
        length_m: 1,
        protection: { type: 'class-t', rating_A: 300, fromSource_m: 0.1, voltage_V: 80 },
      });
      Object.assign(system.bank!, { blockCapacity_Ah: 400, parallel: 4, internal_mohm: 1, tapping: 'busbar' });
      change(system);
    });
  const cure = (model: Model, rule: string) => {
    const finding = find(model, rule)!;
    return remediesOf(model, finding, check(model)).map(({ changes }) => changes[0]!.value);
  };
  test('for a start of 1,800 W: 1,800 / .95 / .9 = 2,105 W of peak, which one of 1,200 W has', () =>
    expect(
      cure(
        strong((system) => void (system.loads![0]!.surge_W = 1800)),
        'inverter.surge',
      ),
    ).toEqual([{ softStart: true }, { continuous_W: 1200, surge_W: 2400 }]));
  test('for 1,100 W that run: 1,100 / .95 / .8 = 1,447 W', () =>
    expect(
      cure(
        strong((system) => void (system.loads![0]!.power_W = 1100)),
        'inverter.continuous',
      ),
    ).toEqual([{ continuous_W: 1500, surge_W: 3000 }]));
});

test('a tracker for an array of 66 V at work: four tenths more, as sold', () => {
  const model = wired((system) => {
    Object.assign(part.controller(system), { type: 'pwm', maxPv_V: 150 });
    Object.assign(part.module(system), { vmp_V: 33, voc_V: 40, imp_A: 3, isc_A: 3.3 });
  });
  const finding = find(model, 'pv.pwm-waste')!;
  // 1.4 x 66 V = 92.4 V.
  expect(remediesOf(model, finding, check(model)).map(({ changes }) => changes[0]!.value)).toEqual([
    { type: 'mppt', maxPv_V: 100 },
  ]);
});

describe('cautions of a bank', () => {
  const said = (more: object) => cautionsOf('bank', more).join(' ');
  test('lead gives off gas, lithium must not be charged in the cold, what was salvaged has no protection', () => {
    expect(said({ chemistry: 'flooded' })).toMatch(/hydrogen/);
    expect(said({ chemistry: 'flooded' })).not.toMatch(/lithium/i);
    expect(said({ chemistry: 'lfp' })).toMatch(/Never charge lithium/);
    expect(said({ chemistry: 'lfp' })).not.toMatch(/hydrogen/);
    expect(said({ chemistry: 'agm' })).not.toMatch(/lithium|Salvaged/i);
    expect(said({ chemistry: 'agm', salvaged: true })).toMatch(/Salvaged/);
    expect(said({})).not.toMatch(/lithium|hydrogen/i);
  });
});

test('a main fuse that was seen, and none recorded on any cable of the bank: both cannot be right', () => {
  const seen = (types: ('none' | 'strip')[]) => {
    const model = wired((system) => {
      system
        .runs!.slice(0, 2)
        .forEach((run, i) => (run.protection = { type: types[i]!, rating_A: 60, fromSource_m: 0.1 }));
    });
    model.site.observations = { mainFuse: 'yes' };
    const { verdict, missing } = find(model, 'observed.mainFuse')!;
    return [verdict, missing];
  };
  expect(seen(['none', 'none'])).toEqual(['unknown', ['r1.protection.type', 'r2.protection.type']]);
  expect(seen(['strip', 'none'])).toEqual(['holds', []]);
});

test('an input limit that holds its charger back says so, and takes no more than it', () => {
  const taken = (inputLimit_A: number | null) => {
    const model = wired((system) => {
      system.sources = [{ id: 'g', kind: 'generator', label: 'Gen', power_W: 2000 }];
      Object.assign(system.inverters![0]!, { charger: { max_A: 80 }, inputLimit_A, transfer: 'built-in' });
    });
    const { demand, working } = find(model, 'charger.input')!;
    return { demand: demand!, limited: working.some((line) => line.startsWith('input limited to')) };
  };
  const free = taken(null);
  expect(free.limited).toBe(false);
  expect(taken(16)).toEqual(free);
  expect(taken(5)).toEqual({ demand: 5 * 230, limited: true });
});
