import {
  check,
  checkSystemFile,
  FaultError,
  modelOf,
  setOnRow,
  type Model,
  type PartRow,
  type Finding,
  type SystemFile,
  lowered,
} from '@true-lantern/core';
import { router } from 'expo-router';
import { useMemo, useState } from 'react';
import { View } from 'react-native';
import { enqueueSite } from '../data/outbox';
import { FIELDS } from '../data/fields';
import { useMayWrite } from '../data/session';
import { useEditor } from '../entry/useEditor';
import { FieldRow } from '../entry/FieldRow';
import { storedValue } from '../entry/values';
import { Button, Chip } from '../ui/controls';
import { FindingDetail } from '../ui/finding-detail';
import { Page } from '../ui/page';
import { T } from '../ui/text';
import { usePretty } from '../ui/units';
import { QUICK, type QuickQuestion } from './questions';

/** A figure before there is a site, by the same rules; one tap makes a site of it. */
export function QuickScreen() {
  const [chosen, setChosen] = useState<QuickQuestion | null>(QUICK[0] ?? null);
  const [rows, setRows] = useState<Record<string, PartRow>>({});
  if (!chosen) return null;
  return (
    <Question
      question={chosen}
      onChoose={setChosen}
      row={rows[chosen.id] ?? startRow(chosen)}
      onRow={(row) => setRows({ ...rows, [chosen.id]: row })}
    />
  );
}

interface QuestionProps {
  question: QuickQuestion;
  onChoose(question: QuickQuestion): void;
  row: PartRow;
  onRow(row: PartRow): void;
}

function Question({ question: chosen, onChoose, row, onRow }: QuestionProps) {
  const { open, editor } = useEditor({
    site: null,
    row,
    specs: chosen.fields,
    onSave: (set) => onRow(setOnRow(row, set)),
  });
  return (
    <View className="flex-1">
      <Page title="Quick check" onBack={() => router.navigate('/')}>
        <View role="radiogroup" aria-label="Question" className="flex-row flex-wrap gap-2 px-[18px] pt-4">
          {QUICK.map((question) => (
            <Chip
              key={question.id}
              label={question.title}
              on={question.id === chosen.id}
              onPress={() => onChoose(question)}
            />
          ))}
        </View>
        <Asked key={chosen.id} question={chosen} row={row} onOpen={open} />
      </Page>
      {editor}
    </View>
  );
}

const startRow = ({ fields }: QuickQuestion): PartRow => ({
  id: 'quick',
  kind: 'file',
  body: Object.fromEntries(fields.flatMap(({ path, start }) => (start === undefined ? [] : [[path, start]]))),
  evidence: Object.fromEntries(
    fields.flatMap(({ path, start }) => (start === undefined ? [] : [[path, { grade: 'assumed' as const }]])),
  ),
  position: 0,
  revision: 0,
});

function Asked({ question, row, onOpen }: { question: QuickQuestion; row: PartRow; onOpen(path: string): void }) {
  const pretty = usePretty();
  const mayWrite = useMayWrite();
  const lacking = question.fields.filter(
    ({ path }) => path !== 'fuse' && !question.optional?.includes(path) && storedValue(row, path) === null,
  );
  const answer = useMemo(() => answerOf(question, row), [question, row]);
  return (
    <View>
      <View className="pt-2">
        {question.fields.map((field) => (
          <FieldRow key={field.path} row={row} spec={field} onOpen={() => onOpen(field.path)} />
        ))}
      </View>
      {lacking.length > 0 ? (
        <T className="px-[18px] py-4 text-soft">
          Still needed: {lacking.map(({ label }) => lowered(label)).join(', ')}.
        </T>
      ) : 'trouble' in answer ? (
        <T role="alert" className="px-[18px] py-4 font-semi">
          {answer.trouble}
        </T>
      ) : (
        <View className="px-[18px]" testID="quick-answer">
          {answer.says.map((text, i) => (
            <T key={text} look={i === 0 ? 'lead' : 'base'} className="py-1">
              {pretty(text)}
            </T>
          ))}
          {answer.findings.map((finding) => (
            <View key={finding.rule} className="border-b border-rule py-2">
              <FindingDetail finding={finding} model={answer.model} nameOf={wordOf} />
            </View>
          ))}
          {mayWrite ? (
            <Button
              label="Make it a site"
              kind="main"
              className="mt-5 min-h-[64px]"
              onPress={() => router.push(`/site/${enqueueSite(answer.file)}`)}
            />
          ) : null}
        </View>
      )}
    </View>
  );
}

/** A path in words: what the field is called, of whatever part. */
function wordOf(path: string): string {
  const field = path.slice(path.indexOf('.') + 1);
  const spec = Object.values(FIELDS)
    .flatMap((specs) => specs ?? [])
    .find((one) => one.path === field);
  return spec ? lowered(spec.label) : path.startsWith('schools.') ? 'the standard' : field.replace(/[._]/g, ' ');
}

type Answer = { findings: Finding[]; says: string[]; model: Model; file: SystemFile } | { trouble: string };

function answerOf(question: QuickQuestion, row: PartRow): Answer {
  try {
    const { file } = checkSystemFile(question.file((path) => storedValue(row, path) as never));
    const model = modelOf(file);
    const says = question.says?.((path) => storedValue(row, path) as never) ?? [];
    return { file, model, says, findings: check(model).filter(({ rule }) => question.rules.includes(rule)) };
  } catch (error) {
    if (!(error instanceof FaultError)) throw error;
    return { trouble: `Not possible: ${error.faults[0]?.message ?? ''}.` };
  }
}
