import { gapsOf } from '../data/reading';
import { Slot, usePathname, router } from 'expo-router';
import { startTransition, useEffect, useMemo, useState } from 'react';
import { Pressable, ScrollView, View } from 'react-native';
import { SiteContext } from '../data/open-site';
import { readingsOf } from '../data/readings';
import { useSite, type OpenSite } from '../data/site';
import { isSigned, visitNow, visitsOf } from '../data/visits';
import { warmCheck } from '../data/warm';
import { openProposals, ticksOf } from '../data/work';
import { Boundary } from '../ui/boundary';
import { Button, HeavyRule, Plain, Waiting } from '../ui/controls';
import { useFocusOnArrival } from '../ui/focus';
import { useKeys } from '../ui/keys';
import { T } from '../ui/text';
import { UndoBar } from '../ui/undo';
import { useLineShare, useWide, useWidest } from '../ui/wide';
import { SiteLine } from '../line/SiteLine';
import { SurveyScreen } from '../survey/SurveyScreen';
import { SiteHeader, Lead } from './SiteHeader';
import { WORDS } from '../ui/words';

type Stage = 'survey' | 'check' | 'plan' | 'install' | 'service';

const STAGES: { stage: Stage; word: string; path: string; key: string }[] = [
  { stage: 'survey', word: 'Survey', path: '', key: '1' },
  { stage: 'check', word: 'Check', path: '/check', key: '2' },
  { stage: 'plan', word: 'Plan', path: '/plan', key: '3' },
  { stage: 'install', word: 'Install', path: '/install', key: '4' },
  { stage: 'service', word: 'Service', path: '/service', key: '5' },
];

/** Everything inside one site: its name, the sentence that says what gives out first, and the stages. */
export function SiteShell({ id }: { id: string }) {
  // The tap is answered at once; the check and the Line come in slices behind it, so that nothing waits for them in one.
  // From one site straight to another nothing waits: the pages below would forget where they were going.
  const [opening, setOpening] = useState(true);
  useEffect(() => {
    if (!opening) return undefined;
    let gone = false;
    const open = () => startTransition(() => setOpening(false));
    void warmCheck(id, () => gone).then(() => gone || open());
    return () => void (gone = true);
  }, [id, opening]);
  return opening ? <Waiting what="Opening the site ..." /> : <Opened key={id} id={id} />;
}

function Opened({ id }: { id: string }) {
  const { site, error, refetch } = useSite(id);
  if (!site && error)
    return (
      <Plain title="This site cannot be opened." text={error.message}>
        <Button label={WORDS.tryAgain} kind="main" onPress={() => void refetch()} />
        <Button label="All sites" onPress={() => router.replace('/')} />
      </Plain>
    );
  if (!site) return <Waiting what="Opening the site ..." />;
  return (
    <SiteContext.Provider value={site}>
      <Frame site={site} />
    </SiteContext.Provider>
  );
}

interface FrameProps {
  site: OpenSite;
  stage: Stage;
  pathname: string;
  root: string;
  go(path: string): void;
}

function Frame({ site }: { site: OpenSite }) {
  const wide = useWide();
  const pathname = usePathname();
  const root = `/site/${site.id}`;
  const [help, setHelp] = useState(false);
  const go = (path: string) => router.navigate(`${root}${path}`);
  useKeys({
    ...Object.fromEntries(STAGES.map(({ key, path }) => [key, () => go(path)])),
    '/': () => router.navigate('/'),
    n: () => go('/add'),
    w: () => go('/walk'),
    h: () => go('/history'),
    '?': () => setHelp((shown) => !shown),
    ...(help ? { Escape: () => setHelp(false) } : {}),
  });
  const props: FrameProps = { site, stage: stageOf(pathname.slice(root.length)), pathname, root, go };
  return wide ? <WideFrame {...props} help={help} /> : <NarrowFrame {...props} />;
}

/** Stages, the Line and the page side by side. */
function WideFrame({ site, stage, pathname, root, go, help }: FrameProps & { help: boolean }) {
  const main = useFocusOnArrival(pathname);
  const widest = useWidest();
  const share = useLineShare();
  const opened = /\/part\/([^/]+)$/.exec(pathname)?.[1];
  const besides = opened !== undefined || pathname === `${root}/add`;
  return (
    <View className="flex-1 flex-row">
      <StageRail site={site} stage={stage} go={go} />
      <View
        role="region"
        aria-label="The Line"
        // Plan sets things side by side and wants the width; elsewhere the Line is to be seen whole.
        style={{ width: widest ? share : hasLead(stage) ? 500 : 404 }}
        className="border-r border-rule"
      >
        <SiteHeader site={site} />
        <HeavyRule />
        <WholeLine site={site} selected={opened ? decodeURIComponent(opened) : null} />
      </View>
      <View ref={main} tabIndex={-1} className="min-w-0 flex-1 outline-none" role="main">
        {hasLead(stage) ? (
          <>
            <Lead site={site} />
            <HeavyRule />
          </>
        ) : null}
        <View className="min-h-0 flex-1 flex-row">
          {besides && widest ? (
            <View role="region" aria-label="What is missing" className="w-[280px] border-r border-rule">
              <SurveyScreen beside />
            </View>
          ) : null}
          <View className="min-w-0 flex-1">
            <Boundary place={pathname} back={root}>
              <Slot />
            </Boundary>
          </View>
        </View>
        <UndoBar />
      </View>
      {help ? <Keys /> : null}
    </View>
  );
}

const StageRail = ({ site, stage, go }: Pick<FrameProps, 'site' | 'stage' | 'go'>) => (
  <View role="navigation" aria-label="Stages" className="w-[92px] border-r-2 border-ink pt-8">
    <Tabs site={site} stage={stage} go={go} upright />
    <View className="mt-auto gap-1 pb-6">
      <T look="small" className="text-center">
        1 – 5 stages
      </T>
      <T look="small" className="text-center">
        / all sites
      </T>
      <T look="small" className="text-center">
        ? keys
      </T>
    </View>
  </View>
);

/** One page at a time, the stages under the thumb. */
function NarrowFrame({ site, stage, pathname, root, go }: FrameProps) {
  const main = useFocusOnArrival(pathname);
  // A part or a proposal opened on a phone has a heading of its own and wants the whole height.
  const top = STAGES.some(({ path }) => pathname === `${root}${path}`);
  return (
    <View className="flex-1">
      {top ? (
        <View role="banner">
          <SiteHeader site={site} />
          {hasLead(stage) ? <Lead site={site} /> : null}
          <HeavyRule />
        </View>
      ) : null}
      <View ref={main} tabIndex={-1} className="min-h-0 flex-1 outline-none" role="main">
        <Boundary place={pathname} back={root}>
          <Slot />
        </Boundary>
      </View>
      <UndoBar />
      <HeavyRule />
      <Tabs site={site} stage={stage} go={go} />
    </View>
  );
}

/** Pages that belong to a stage and are not under its own path. */
const BELONG: Readonly<Record<string, Stage>> = {
  curve: 'check',
  year: 'check',
  visits: 'service',
  faults: 'service',
  practice: 'service',
  handover: 'service',
  papers: 'service',
  guided: 'service',
  live: 'service',
  log: 'service',
  due: 'service',
  trends: 'service',
  ahead: 'service',
};

function stageOf(path: string): Stage {
  const place = /^\/([^/?]+)/.exec(path)?.[1] ?? '';
  return BELONG[place] ?? STAGES.find(({ stage }) => stage === place)?.stage ?? 'survey';
}

/** The sentence of what gives out first belongs to Survey and Check; the others have their own. */
const hasLead = (stage: Stage) => stage === 'survey' || stage === 'check';

/** On a wide screen the whole system is seen at once. */
function WholeLine({ site, selected }: { site: OpenSite; selected: string | null }) {
  const [height, setHeight] = useState<number | null>(null);
  return (
    <View className="min-h-0 flex-1" onLayout={({ nativeEvent }) => setHeight(nativeEvent.layout.height)}>
      {height === null ? null : (
        <ScrollView>
          <SiteLine site={site} selected={selected} fitHeight={height - LINE_MARGIN} />
        </ScrollView>
      )}
    </View>
  );
}

/** Above and below the drawing, px. */
const LINE_MARGIN = 16;

const KEYS: [key: string, does: string][] = [
  ['1 to 5', 'Survey, Check, Plan, Install, Service'],
  ['n', 'add a part'],
  ['w', 'walk round'],
  ['h', 'history'],
  ['/', 'all sites'],
  ['Tab, Enter', 'move to a row, open it'],
  ['Arrows', 'move between the answers of a question'],
  ['0-9 ~ ..', 'in a field: open its keypad'],
  ['Enter, Esc', 'save, or leave the field'],
  ['?', 'this list'],
];

function Keys() {
  return (
    <View role="dialog" aria-label="Keys" className="absolute bottom-6 left-[110px] border-2 border-ink bg-paper p-5">
      {KEYS.map(([key, does]) => (
        <View key={key} className="flex-row gap-4 py-1">
          <T look="head" className="w-28">
            {key}
          </T>
          <T>{does}</T>
        </View>
      ))}
    </View>
  );
}

function Tabs({
  site,
  stage,
  go,
  upright = false,
}: {
  site: OpenSite;
  stage: Stage;
  go(path: string): void;
  upright?: boolean;
}) {
  const counts = useMemo(() => stageCounts(site), [site]);
  return (
    <View
      {...(upright ? {} : { role: 'navigation' as const, 'aria-label': 'Stages' })}
      className={upright ? '' : 'flex-row'}
    >
      {STAGES.map(({ stage: name, word, path }) => {
        const on = stage === name;
        return (
          <Pressable
            key={name}
            role="link"
            aria-label={`${word}: ${counts[name]}`}
            aria-current={on ? 'page' : undefined}
            onPress={() => go(path)}
            className={`items-center active:bg-well ${upright ? 'min-h-[72px] justify-center' : 'min-h-[68px] flex-1 pt-2'}`}
          >
            {on ? (
              <View
                className={`absolute bg-lamp ${upright ? 'bottom-0 left-0 top-0 w-[5px]' : 'left-0 right-0 top-0 h-[5px]'}`}
              />
            ) : null}
            <T look="head" className={on ? '' : 'font-semi text-soft'}>
              {word}
            </T>
            <T look="small" className={on ? 'text-ink' : ''}>
              {counts[name]}
            </T>
          </Pressable>
        );
      })}
    </View>
  );
}

function stageCounts(site: OpenSite): Record<Stage, string> {
  const gaps = gapsOf(site).length;
  const over = site.findings.filter(({ verdict }) => verdict === 'over').length;
  const open = openProposals(site);
  const begun = open.map((proposal) => Object.keys(ticksOf(proposal)).length).filter((ticked) => ticked > 0);
  const visit = visitNow(site);
  const read = visit ? readingsOf(site).filter((reading) => reading.visit === visit.id).length : 0;
  return {
    survey: gaps === 0 ? 'complete' : gaps === 1 ? '1 gap' : `${gaps} gaps`,
    check: over > 0 ? `${over} over` : 'none over',
    plan: String(open.length),
    install: begun.length > 0 ? `${Math.max(...begun)} done` : open.length > 0 ? 'not begun' : '\u2013',
    service: visit ? `${read} read` : visitsOf(site).some(isSigned) ? 'signed' : '\u2013',
  };
}
