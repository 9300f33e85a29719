import { gapsOf, leadOf } from '../data/reading';
import { Slot, usePathname, router } from 'expo-router';
import ArrowLeft from 'lucide-react-native/icons/arrow-left';
import Download from 'lucide-react-native/icons/download';
import { useMemo } from 'react';
import { Pressable, ScrollView, View } from 'react-native';
import { writeSystemFile } from '@true-lantern/core';
import { saveTextFile } from '../data/files';
import { SiteContext } from '../data/open-site';
import { useSite, type OpenSite } from '../data/site';
import { Button, HeavyRule, Plain, Waiting } from '../kit/controls';
import { useGround } from '../kit/ground';
import { GroundSwitch } from '../kit/ground-switch';
import { useKeys } from '../kit/keys';
import { Heading, T } from '../kit/text';
import { pretty } from '../kit/units';
import { UndoBar } from '../kit/undo';
import { useWide } from '../kit/wide';
import { SiteLine } from '../line/SiteLine';
import { OutboxNote } from './OutboxNote';

type Stage = 'survey' | 'check' | 'plan';
const STAGES: { stage: Stage; word: string; path: string; key: string }[] = [
  { stage: 'survey', word: 'Survey', path: '', key: '1' },
  { stage: 'check', word: 'Check', path: '/check', key: '2' },
  { stage: 'plan', word: 'Plan', path: '/plan', key: '3' },
];

/** Everything inside one site: its name, the sentence that says what gives out first, and the stages. */
export function SiteShell({ id }: { id: string }) {
  const { site, error, refetch } = useSite(id);
  if (!site && error)
    return (
      <Plain title="This site cannot be opened." text={error.message}>
        <Button label="Try again" kind="main" onPress={() => void refetch()} />
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

function Frame({ site }: { site: OpenSite }) {
  const wide = useWide();
  const pathname = usePathname();
  const root = `/site/${site.id}`;
  const stage: Stage = pathname.startsWith(`${root}/check`)
    ? 'check'
    : pathname.startsWith(`${root}/plan`)
      ? 'plan'
      : 'survey';
  const go = (path: string) => router.navigate(`${root}${path}`);
  useKeys({
    ...Object.fromEntries(STAGES.map(({ key, path }) => [key, () => go(path)])),
    '/': () => router.navigate('/'),
  });
  // A part or a proposal opened on a phone has a heading of its own and wants the whole height.
  const top = pathname === root || pathname === `${root}/check` || pathname === `${root}/plan`;
  const opened = /\/part\/([^/]+)$/.exec(pathname)?.[1];

  if (wide)
    return (
      <View className="flex-1 flex-row">
        <View role="navigation" aria-label="Stages" className="w-[92px] border-r-2 border-ink pt-8">
          <Tabs site={site} stage={stage} go={go} upright />
          <View className="mt-auto gap-1 pb-6">
            <T look="small" className="text-center">
              1 2 3 stages
            </T>
            <T look="small" className="text-center">
              / all sites
            </T>
          </View>
        </View>
        <View role="region" aria-label="The Line" className="w-[400px] border-r border-rule">
          <SiteHeader site={site} />
          <HeavyRule />
          <ScrollView>
            <SiteLine site={site} selected={opened ? decodeURIComponent(opened) : null} />
          </ScrollView>
        </View>
        <View className="min-w-0 flex-1" role="main">
          <Lead site={site} />
          <HeavyRule />
          <Slot />
          <UndoBar />
        </View>
      </View>
    );
  return (
    <View className="flex-1">
      {top ? (
        <View role="banner">
          <SiteHeader site={site} />
          <Lead site={site} />
          <HeavyRule />
        </View>
      ) : null}
      <View className="min-h-0 flex-1" role="main">
        <Slot />
      </View>
      <UndoBar />
      <HeavyRule />
      <Tabs site={site} stage={stage} go={go} />
    </View>
  );
}

function SiteHeader({ site }: { site: OpenSite }) {
  const { colours } = useGround();
  const { name } = site.file.site;
  return (
    <View>
      <View className="min-h-[56px] flex-row items-center gap-1 pl-2 pr-2">
        <Pressable
          role="button"
          aria-label="All sites"
          onPress={() => router.navigate('/')}
          className="h-12 w-11 items-center justify-center active:opacity-60"
        >
          <ArrowLeft size={24} color={colours.ink} />
        </Pressable>
        <View className="min-w-0 flex-1">
          <T look="station" numberOfLines={1}>
            {name}
          </T>
        </View>
        <Pressable
          role="button"
          aria-label="Export the system file"
          onPress={() => saveTextFile(`${fileName(name)}.lantern.json`, writeSystemFile(site.file))}
          className="h-12 w-11 items-center justify-center active:opacity-60"
        >
          <Download size={24} color={colours.ink} />
        </Pressable>
        <GroundSwitch />
      </View>
      <OutboxNote siteId={site.id} />
    </View>
  );
}

const fileName = (name: string) =>
  name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '') || 'site';

/** The single sentence at the head: the worst finding by verdict and consequence. */
function Lead({ site }: { site: OpenSite }) {
  const lead = useMemo(() => leadOf(site), [site]);
  const wide = useWide();
  return (
    <View className={wide ? 'min-h-[56px] justify-center px-[18px]' : 'px-[18px] pb-4 pt-2'}>
      <Heading look="lead">{pretty(lead)}</Heading>
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
  const proposals = site.file.proposals?.length ?? 0;
  return {
    survey: gaps === 0 ? 'complete' : gaps === 1 ? '1 gap' : `${gaps} gaps`,
    check: over > 0 ? `${over} over` : 'none over',
    plan: String(proposals),
  };
}
