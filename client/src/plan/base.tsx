import {
  check,
  proposedModel,
  type Change,
  type Finding,
  type Model,
  type Proposal,
  lowered,
} from '@true-lantern/core';
import { router, useGlobalSearchParams } from 'expo-router';
import { useMemo, useState } from 'react';
import { View } from 'react-native';
import { useOpenSite } from '../data/open-site';
import { saveProposal } from '../ui/save-proposal';
import { openProposals } from '../data/work';
import type { OpenSite } from '../data/site';
import { Chip, Row } from '../ui/controls';
import { T } from '../ui/text';

/** What a what-if is built upon: the system as found, or a proposal with what it changes. */
export interface Base {
  id: string | null;
  title: string | null;
  model: Model;
  findings: Finding[];
  changes: Change[];
}

/** The system as it was found, to plan on. */
export const asFound = (site: OpenSite): Base => ({
  id: null,
  title: null,
  model: site.model,
  findings: site.allOn,
  changes: [],
});

/** The base that the address names with `?on=`; one that no longer applies is the system as found. */
export function useBase(): Base {
  const site = useOpenSite();
  const { on } = useGlobalSearchParams<{ on?: string }>();
  return useMemo(() => {
    const proposal = site.file.proposals?.find(({ id }) => id === on);
    return (proposal && baseOf(site, proposal)) ?? asFound(site);
  }, [site, on]);
}

function baseOf(site: OpenSite, { id, title, changes }: Proposal): Base | null {
  const model = proposedModel(site.file, id);
  return (
    model && {
      id,
      title,
      model,
      findings: check(model),
      changes: (changes ?? []).map(({ was: _, ...change }) => change),
    }
  );
}

/** What it is built on, and a way to build it on something else; shown where there is a choice. */
export function OnWhat({ base }: { base: Base }) {
  const site = useOpenSite();
  const [open, setOpen] = useState(false);
  const proposals = openProposals(site);
  if (proposals.length === 0) return null;
  const take = (id: string) => {
    router.setParams({ on: id });
    setOpen(false);
  };
  return (
    <View className="print:hidden">
      <Row aria-expanded={open} testID="on-what" onPress={() => setOpen(!open)}>
        <T className="min-w-0 flex-1">
          On <T className={`font-semi ${base.title ? 'text-second' : ''}`}>{base.title ?? 'the system as found'}</T>
        </T>
        <T look="fact">{open ? 'hide' : 'change'}</T>
      </Row>
      {open ? (
        <View role="radiogroup" aria-label="Built on" className="gap-2 bg-well px-[18px] py-3">
          <Chip label="The system as found" on={base.id === null} onPress={() => take('')} />
          {proposals.map(({ id, title }) => (
            <Chip key={id} label={title} on={base.id === id} onPress={() => take(id)} />
          ))}
        </View>
      ) : null}
    </View>
  );
}

/** A new proposal: what the base changes, and then this. Opens it. */
export function saveOn(site: OpenSite, base: Base, title: string, changes: Change[]): void {
  const whole = base.title ? `${base.title}; ${lowered(title)}` : title;
  saveProposal(site, whole.slice(0, 190), [...base.changes, ...changes]);
}
