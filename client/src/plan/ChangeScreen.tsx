import {
  recordOf,
  nameIn,
  eachPart,
  isSingleName,
  KIND_ORDER,
  memberAt,
  setOnRow,
  type Change,
  type PartKind,
  type PartRow,
  lowered,
} from '@true-lantern/core';
import { useMemo, useState } from 'react';
import { View } from 'react-native';
import { FIELDS, KIND_WORDS } from '../data/fields';
import { useOpenSite } from '../data/open-site';
import { useMayWrite } from '../data/session';
import { FieldRow } from '../entry/FieldRow';
import { SeriesParallel } from '../entry/SeriesParallel';
import { useEditor } from '../entry/useEditor';
import { Button, Chip, Row } from '../ui/controls';
import { Heading, T } from '../ui/text';
import { saveOn, useBase, type Base } from './base';
import { Outcome, useResult } from './Outcome';
import { PlanPage } from './PlanPage';
import { WORDS } from '../ui/words';

/** "What if this were another": any field of any part set anew, judged by the whole book before anything is saved. */
export function ChangeScreen() {
  const base = useBase();
  const [chosen, setChosen] = useState<string | null>(null);
  const parts = eachPart(base.model.system);
  const picked = parts.find(({ part }) => part.id === chosen);
  if (picked)
    return (
      <Changing
        key={picked.part.id}
        base={base}
        kind={picked.kind}
        id={picked.part.id}
        onBack={() => setChosen(null)}
      />
    );
  return (
    <PlanPage title="Change something" base={base}>
      {KIND_ORDER.map((kind) => {
        const some = parts.filter((placed) => placed.kind === kind);
        if (some.length === 0 || kind === 'states') return null;
        return (
          <View key={kind}>
            <Heading level={2} look="head" className="px-[18px] pt-4">
              {KIND_WORDS[kind]}
            </Heading>
            {some.map(({ part }) => (
              <Row key={part.id} testID={`change-${part.id}`} onPress={() => setChosen(part.id)}>
                <T className="min-w-0 flex-1">{nameIn(base.model, part.id)}</T>
              </Row>
            ))}
          </View>
        );
      })}
    </PlanPage>
  );
}

interface ChangingProps {
  base: Base;
  kind: PartKind;
  id: string;
  onBack(): void;
}

function Changing({ base, kind, id, onBack }: ChangingProps) {
  const site = useOpenSite();
  const mayWrite = useMayWrite();
  const found = useMemo(() => rowOf(base, kind, id), [base, kind, id]);
  const [row, setRow] = useState<PartRow>(found);
  const [touched, setTouched] = useState<readonly string[]>([]);
  const take = (set: Record<string, unknown>) => {
    const plain = Object.fromEntries(Object.entries(set).filter(([path]) => !path.startsWith('evidence/')));
    setRow(setOnRow(row, plain));
    setTouched([...new Set([...touched, ...Object.keys(plain)])]);
  };
  // Parts are chosen among those of the base, not of the survey.
  const onBase = useMemo(() => ({ ...site, model: base.model }), [site, base]);
  const specs = FIELDS[kind] ?? [];
  const { open, editor } = useEditor({ site: onBase, quiet: true, row, specs, onSave: take });
  const changes = useMemo<Change[] | null>(() => {
    if (touched.length === 0) return null;
    const value: Record<string, unknown> = {};
    for (const path of touched) put(value, path.split('.'), memberAt(row.body, path) ?? null);
    return [{ op: 'set', at: kind, ...(isSingleName(kind) ? {} : { id }), value }];
  }, [touched, row, kind, id]);
  const result = useResult(base, changes);
  const name = nameIn(base.model, id);
  const strings = kind === 'arrays' ? (row.body.strings as string[][]) : null;
  const labels = specs.filter(({ path }) => touched.includes(path)).map(({ label }) => lowered(label));
  return (
    <PlanPage title={name} base={base} over={editor}>
      {kind === 'bank' ? (
        <SeriesParallel
          what="Blocks"
          series={row.body.series as number}
          parallel={row.body.parallel as number}
          onChange={(series, parallel) => take({ series, parallel })}
        />
      ) : null}
      {strings ? <ModulesOff strings={strings} onChange={(next) => take({ strings: next })} /> : null}
      <View className="gap-3 px-[18px] py-4">
        {result ? <Outcome base={base} result={result} /> : <T look="fact">Tap the part to change.</T>}
        {result && 'comparison' in result && changes && mayWrite ? (
          <Button
            label={WORDS.saveAsProposal}
            kind="second"
            onPress={() => saveOn(site, base, `${name}: ${labels.join(', ') || 'rewired'}`, changes)}
          />
        ) : null}
        <Button label="Another part" onPress={onBack} />
      </View>
      {specs.map((field) => (
        <FieldRow key={field.path} row={row} spec={field} onOpen={() => open(field.path)} />
      ))}
    </PlanPage>
  );
}

/** A module left off, or a whole string: one tap each. */
function ModulesOff({ strings, onChange }: { strings: string[][]; onChange(strings: string[][]): void }) {
  return (
    <View className="flex-row flex-wrap gap-2 px-[18px] py-3">
      {strings.map((string, i) =>
        string.length > 1 ? (
          <Chip
            key={i}
            many
            on={false}
            label={strings.length === 1 ? 'One module fewer' : `One module fewer string ${i + 1}`}
            onPress={() => onChange(strings.map((one, k) => (k === i ? one.slice(0, -1) : one)))}
          />
        ) : null,
      )}
      {strings.length > 1 ? (
        <Chip many on={false} label="One string fewer" onPress={() => onChange(strings.slice(0, -1))} />
      ) : null}
      {strings.length > 0 ? (
        <Chip many on={false} label="Add a string" onPress={() => onChange([...strings, [...(strings[0] ?? [])]])} />
      ) : null}
    </View>
  );
}

function rowOf(base: Base, kind: PartKind, id: string): PartRow {
  const placed = eachPart(base.model.system).find(({ part }) => part.id === id);
  const body = structuredClone(recordOf(placed?.part));
  return { id: `change-${id}`, kind, body, evidence: {}, position: 0, revision: 0 };
}

/** A member of a change, at its path. Unlike in a body (`setMember`) null stands there too: it takes the member out. */
function put(into: Record<string, unknown>, [key = '', ...rest]: string[], member: unknown): void {
  if (rest.length === 0) into[key] = member;
  else put((into[key] ??= {}) as Record<string, unknown>, rest, member);
}
