import { nameOfRow, said, type Grade, type PartKind, type PartRow } from '@true-lantern/core';
import { View } from 'react-native';
import type { FieldSpec } from '../data/fields';
import { partName } from '../data/reading';
import type { OpenSite } from '../data/site';
import { Chip } from '../ui/controls';
import { TextField } from '../ui/field';
import { MONTHS } from '../ui/months';
import { T } from '../ui/text';
import { ClimateEntry } from './ClimateEntry';
import { HorizonEntry } from './HorizonEntry';
import { StringsEntry } from './StringsEntry';
import { answerText } from './values';

interface ChoiceProps {
  site: OpenSite | null;
  row: PartRow;
  spec: FieldSpec;
  before: unknown;
  picked: unknown;
  setPicked(value: unknown): void;
  setGrade(grade: Grade): void;
}

/** A field that is chosen or written, not typed on the pad. */
export function Choice({ site, row, spec, before, picked, setPicked, setGrade }: ChoiceProps) {
  const now = picked === undefined ? before : picked;
  if (spec.kind === 'strings')
    return <StringsEntry system={site?.model.system ?? {}} strings={(now ?? []) as string[][]} onChange={setPicked} />;
  if (spec.kind === 'choices' || spec.kind === 'months' || spec.kind === 'parts')
    return <Several site={site} spec={spec} chosen={(now ?? []) as unknown[]} onChange={setPicked} />;
  if (spec.kind === 'climate')
    return (
      <ClimateEntry
        site={site}
        value={now as never}
        onChange={(climate, from) => {
          setPicked(climate);
          setGrade(from);
        }}
      />
    );
  if (spec.kind === 'indices')
    return <StringIndices site={site} row={row} chosen={(now ?? []) as number[]} onChange={setPicked} />;
  if (spec.kind === 'horizon') return <HorizonEntry value={(now ?? []) as never} onChange={setPicked} />;
  if (spec.kind === 'part') {
    const parts = partsOf(site, spec);
    if (parts.length === 0) return <T look="fact">Nothing of that kind is recorded yet.</T>;
    return (
      <View role="radiogroup" aria-label={spec.label} className="flex-row flex-wrap gap-2">
        {parts.map(({ id, label }) => (
          <Chip key={id} label={label} on={now === id} onPress={() => setPicked(id)} />
        ))}
      </View>
    );
  }
  if (spec.kind === 'choice' || spec.kind === 'flag') {
    const answers: [string, unknown][] =
      spec.kind === 'flag'
        ? [
            ['yes', true],
            ['no', false],
          ]
        : (spec.choices ?? []).map((choice) => [answerText(site, row, spec, choice), choice]);
    return (
      <View role="radiogroup" aria-label={spec.label} className="flex-row flex-wrap gap-2">
        {answers.map(([label, value]) => (
          <Chip key={label} label={label} on={now === value} onPress={() => setPicked(value)} />
        ))}
      </View>
    );
  }
  return (
    <TextField label="Text" defaultValue={before === null ? '' : String(before)} onChangeText={setPicked} autoFocus />
  );
}

/** Which strings of the array at its end a run carries, counted from one on the screen and from nought in the file. */
function StringIndices({
  site,
  row,
  chosen,
  onChange,
}: {
  site: OpenSite | null;
  row: PartRow;
  chosen: number[];
  onChange(value: unknown): void;
}) {
  const array = site?.model.system.arrays?.find(({ id }) => id === row.body.from || id === row.body.to);
  if (!array) return <T look="fact">This cable comes from no array.</T>;
  return (
    <View className="flex-row flex-wrap gap-2">
      {array.strings.map((_, index) => {
        const rest = chosen.filter((other) => other !== index);
        const on = chosen.includes(index);
        return (
          <Chip
            key={index}
            many
            label={`String ${index + 1}`}
            on={on}
            onPress={() => {
              const next = (on ? rest : [...rest, index]).sort((a, b) => a - b);
              onChange(next.length === 0 ? null : next);
            }}
          />
        );
      })}
    </View>
  );
}

/** Any number of a few answers. */
function Several({
  site,
  spec,
  chosen,
  onChange,
}: {
  site: OpenSite | null;
  spec: FieldSpec;
  chosen: unknown[];
  onChange(value: unknown): void;
}) {
  const answers: [unknown, string][] =
    spec.kind === 'months'
      ? MONTHS.map((word, i) => [i + 1, word])
      : spec.kind === 'parts'
        ? partsOf(site, spec).map(({ id, label }) => [id, label])
        : (spec.choices ?? []).map((choice) => [choice, said(choice)]);
  return (
    <View className="flex-row flex-wrap gap-2">
      {answers.map(([value, label]) => (
        <Chip
          key={label}
          many
          label={label}
          on={chosen.includes(value)}
          onPress={() =>
            onChange(chosen.includes(value) ? chosen.filter((other) => other !== value) : [...chosen, value])
          }
        />
      ))}
    </View>
  );
}

/** The parts that a reference may lead to, by what they are called. */
const partsOf = (site: OpenSite | null, spec: FieldSpec) =>
  (site?.rows ?? [])
    .filter(({ kind }) => spec.refersTo?.includes(kind as PartKind))
    .map((row) => ({ id: nameOfRow(row), label: site ? partName(site, nameOfRow(row)) : '' }));
