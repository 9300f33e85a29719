import { nameIn, keyOf, sentenceOf, type Interim } from '@true-lantern/core';
import { View } from 'react-native';
import { useOpenSite } from '../data/open-site';
import { pathName } from '../data/reading';
import { Mark, Marked } from '../ui/mark';
import { Heading, T } from '../ui/text';
import { usePretty } from '../ui/units';
import { useAnswer } from '../workers/engine';
import { PlanPage } from './PlanPage';
import { PrintButton } from '../ui/print';

/** Until parts arrive: the limits under which it may run, what stays off, and what no limit cures. */
export function InterimScreen() {
  const site = useOpenSite();
  const { data, error } = useAnswer<'interim'>({ ask: 'interim', model: site.model });
  return (
    <PlanPage title="Until parts arrive">
      <View className="gap-5 px-[18px] pt-4" testID="interim">
        {error ? <T>{error.message}</T> : null}
        {!data && !error ? (
          <T role="status" className="text-soft">
            Searching for safe limits ...
          </T>
        ) : null}
        {data ? (
          <>
            <T look="lead">{leadOf(data)}</T>
            <Limits data={data} />
            <NotByLimits data={data} />
            <T look="fact">
              A limit only works while people keep to it: write it on the device. Local codes and makers&apos; manuals
              come first.
            </T>
            <PrintButton />
          </>
        ) : null}
      </View>
    </PlanPage>
  );
}

const leadOf = ({ limits, off, findOut, left }: Interim): string =>
  limits.length + off.length + findOut.length + left.length === 0
    ? 'Nothing here needs a limit.'
    : left.every(({ finding }) => finding.consequence === 'outage')
      ? 'Within these limits, nothing dangerous or damaging is over.'
      : limits.length + off.length === 0
        ? 'No limit makes this safe. It needs the repair.'
        : 'These limits help. They do not make it safe.';

/** What may run and how far, what stays off, and what may run again once that is fixed. */
function Limits({ data }: { data: Interim }) {
  const pretty = usePretty();
  const site = useOpenSite();
  const limits = data.limits.filter(({ whenBack }) => !whenBack);
  const later = data.limits.filter(({ whenBack }) => whenBack);
  return (
    <>
      <Section shown={limits.length > 0} title="Limits">
        {limits.map(({ text }) => (
          <T key={text} look="station" className="border-b border-rule py-3">
            {pretty(text)}
          </T>
        ))}
      </Section>
      <Section shown={data.off.length > 0} title="Off until repaired">
        {data.off.map(({ id, how, why }) => (
          <View key={id} className="flex-row items-center gap-3 border-b border-rule py-3">
            <Mark verdict="over" />
            <View className="min-w-0 flex-1">
              <T look="head">{nameIn(site.model, id)}</T>
              <T>{pretty(`${how.charAt(0).toUpperCase()}${how.slice(1)}.`)}</T>
              <T look="fact">{pretty(why)}</T>
            </View>
          </View>
        ))}
      </Section>
      <Section shown={later.length > 0} title="Once these are repaired, until the rest is done">
        {later.map(({ text }) => (
          <T key={text} className="border-b border-rule py-2">
            {pretty(text)}
          </T>
        ))}
      </Section>
    </>
  );
}

/** What no limit speaks for, and what the limits hold off. */
function NotByLimits({ data }: { data: Interim }) {
  const pretty = usePretty();
  const site = useOpenSite();
  return (
    <>
      <Section shown={data.findOut.length > 0} title="Check first: over only by a typical value or a guess">
        {data.findOut.map(({ finding, text, fields }) => (
          <Marked key={keyOf(finding)} verdict="unknown" className="border-b border-rule py-3">
            {`${pretty(text)} Read: ${fields.map((field) => pathName(site, field)).join(', ')}.`}
          </Marked>
        ))}
      </Section>
      <Section shown={data.left.length > 0} title="Not solved by a limit">
        {data.left.map(({ finding, text }) => (
          <Marked key={keyOf(finding)} verdict="over" className="border-b border-rule py-3">
            {pretty(text)}
          </Marked>
        ))}
      </Section>
      <Section shown={data.unknown.length > 0} title="Unknown, so not covered by these limits">
        {data.unknown.map((finding) => (
          <T key={keyOf(finding)} look="fact" className="border-b border-rule py-2">
            {nameIn(site.model, finding.subject)}: {pretty(sentenceOf(site.model, finding))}
          </T>
        ))}
      </Section>
      <Section shown={data.cured.length > 0} title="What these limits prevent">
        {data.cured.map((finding) => (
          <T key={keyOf(finding)} look="fact" className="border-b border-rule py-2">
            {pretty(sentenceOf(site.model, finding))}
          </T>
        ))}
      </Section>
    </>
  );
}

function Section({ title, shown, children }: { title: string; shown: boolean; children: React.ReactNode }) {
  if (!shown) return null;
  return (
    <View>
      <Heading level={2} look="station" className="pb-1">
        {title}
      </Heading>
      {children}
    </View>
  );
}
