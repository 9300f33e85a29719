import { BLOCK_PAPERS, dateOf, type BlockPaperKind, type PaperAsked } from '@true-lantern/core';
import { termsOf } from '@true-lantern/wire';
import { useMemo } from 'react';
import { View } from 'react-native';
import { useFirm } from '../data/firm';
import { useShelf } from '../data/shelf';
import type { OpenSite } from '../data/site';
import { useToday } from '../data/today';
import { useUnits } from '../data/units';
import { Plain } from '../ui/controls';
import { PaperPage, PaperSheet, PLANNING_VALUES } from '../ui/paper';
import { T } from '../ui/text';
import { Working } from '../ui/working';
import { useAnswer } from '../workers/engine';
import { Blocks } from './Blocks';

const isBlockPaper = (kind: string): kind is BlockPaperKind => BLOCK_PAPERS.some((one) => one === kind);

/** A paper of a site as a page: what its PDF says, made on this device, with or without a signal. */
export function SitePaper({ siteId, kind, about }: { siteId: string; kind: string; about: string }) {
  if (!isBlockPaper(kind)) return <Plain title="There is no such paper." />;
  return (
    <PaperPage
      siteId={siteId}
      find={(site) => site}
      gone="This site is not here."
      pdf={kind}
      about={about}
      back={`/site/${siteId}/papers`}
    >
      {(site) => <Made site={site} kind={kind} about={about} />}
    </PaperPage>
  );
}

function Made({ site, kind, about }: { site: OpenSite; kind: BlockPaperKind; about: string }) {
  const units = useUnits();
  const { items } = useShelf();
  const { firm } = useFirm();
  const sheet = firm?.sheet;
  const today = useToday();
  const asked = useMemo(
    (): PaperAsked => ({
      kind,
      about,
      units,
      shelf: [...items],
      day: dateOf(today),
      terms: termsOf(firm?.name ?? '', sheet ?? {}),
    }),
    [kind, about, units, items, firm?.name, sheet, today],
  );
  const { data, error } = useAnswer<'paper'>({ ask: 'paper', file: site.file, asked });
  if (error) return <Plain title="This paper cannot be made." text={error.message} />;
  if (!data) return <Working what="Making the paper ..." progress={0} />;
  return (
    <PaperSheet testID={`paper-${kind}`} title={data.title} under={data.under}>
      <Blocks site={site} blocks={data.blocks} />
      <View className="gap-2 pt-8">
        {kind === 'handover' ? null : <T look="fact">{PLANNING_VALUES}</T>}
        {sheet?.registration ? <T look="small">{sheet.registration}</T> : null}
      </View>
    </PaperSheet>
  );
}
