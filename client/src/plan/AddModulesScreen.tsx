import { layoutTitle, MOST_MODULES, presentModules, type Layout } from '@true-lantern/core';
import { router } from 'expo-router';
import { useState } from 'react';
import { ScrollView, View } from 'react-native';
import { useOpenSite } from '../data/open-site';
import { addProposal } from '../data/proposals';
import { useMayWrite } from '../data/session';
import { Button, Row } from '../kit/controls';
import { Mark, VERDICT_WORDS } from '../kit/mark';
import { Stepper } from '../kit/stepper';
import { Heading, T } from '../kit/text';
import { pretty } from '../kit/units';
import { useAnswer } from '../workers/engine';
import { PlanHeader } from './PlanHeader';

/** "What if two more modules go on": every layout over the controllers that are there, best first. */
export function AddModulesScreen() {
  const site = useOpenSite();
  const present = presentModules(site.model);
  const [more, setMore] = useState(2);
  const [chosen, setChosen] = useState<string | null>(null);
  const total = (present?.count ?? 0) + more;
  const { data, error, isFetching } = useAnswer<'layouts'>({ ask: 'layouts', model: site.model, modules: total });
  const mayWrite = useMayWrite();
  const save = (layout: Layout) => {
    const id = addProposal(
      site,
      `${more} more ${more === 1 ? 'module' : 'modules'}: ${layoutTitle(site.model, layout)}`,
      layout.changes,
    );
    router.navigate(`/site/${site.id}/plan/${id}`);
  };
  return (
    <View className="flex-1">
      <PlanHeader title="Add modules" />
      <ScrollView>
        <View className="max-w-[720px] gap-2 pb-10">
          <View className="px-[18px] py-4">
            <Stepper
              label="Modules more"
              value={more}
              min={1}
              max={Math.max(1, MOST_MODULES - (present?.count ?? 0))}
              onChange={setMore}
            />
            <T look="fact" className="pt-2">
              {present?.count ?? 0} now, {total} then, of the same type.
            </T>
          </View>
          <Heading level={2} look="station" className="px-[18px]">
            Layouts, best first
          </Heading>
          {isFetching && !data ? (
            <T role="status" className="px-[18px] py-3 text-soft">
              Working through the layouts ...
            </T>
          ) : null}
          {error ? <T className="px-[18px]">{error.message}</T> : null}
          {data?.map((layout) => {
            const title = layoutTitle(site.model, layout);
            return (
              <View key={title}>
                <Row
                  aria-expanded={chosen === title}
                  testID="layout"
                  onPress={() => setChosen(chosen === title ? null : title)}
                >
                  <Mark verdict={layout.verdict} />
                  <View className="min-w-0 flex-1">
                    <T look="head">{title}</T>
                    <T look="fact">{pretty(layout.why)}</T>
                  </View>
                  <T look="head">{VERDICT_WORDS[layout.verdict]}</T>
                </Row>
                {chosen === title ? (
                  <View className="bg-well px-[18px] py-3">
                    {mayWrite ? (
                      <Button label="Save as a proposal" kind="second" onPress={() => save(layout)} />
                    ) : (
                      <T look="fact">Readers cannot save proposals.</T>
                    )}
                  </View>
                ) : null}
              </View>
            );
          })}
        </View>
      </ScrollView>
    </View>
  );
}
