import { counted, sentenceOf, settingName, settingUnit, since, type Since } from '@true-lantern/core';
import { router } from 'expo-router';
import { useMemo } from 'react';
import { View } from 'react-native';
import { useOpenSite } from '../data/open-site';
import { readingsOf } from '../data/readings';
import { isSigned, visitsOf } from '../data/visits';
import { Row } from '../ui/controls';
import { momentText } from '../ui/dates';
import { Mark } from '../ui/mark';
import { T } from '../ui/text';
import { usePretty, withUnit } from '../ui/units';

/** A next visit opens with what has been since the last one that was signed. */
export function SinceLastVisit() {
  const pretty = usePretty();
  const site = useOpenSite();
  const last = visitsOf(site).find(isSigned);
  const changed = useMemo(
    () => (last?.left ? since(last.left, site.model.system, site.findings) : null),
    [last, site.model.system, site.findings],
  );
  if (!last?.at) return null;
  const from = last.at;
  const later = <T extends { at?: string | null | undefined }>(list: readonly T[]) =>
    list.filter(({ at }) => (at ?? '') > from).length;
  const readings = later(readingsOf(site).filter(({ visit }) => visit !== last.id));
  const photos = later((site.file.attachments ?? []).map(({ at }) => ({ at })));
  const fitted = later((site.file.proposals ?? []).flatMap(({ closed }) => (closed?.as === 'fitted' ? [closed] : [])));
  const said = [
    readings > 0 ? counted(readings, 'reading') : null,
    photos > 0 ? counted(photos, 'photo or note', 'photos or notes') : null,
    fitted > 0 ? `${counted(fitted, 'proposal')} fitted` : null,
    changed && changed.mended > 0 ? `${counted(changed.mended, 'finding')} no longer over` : null,
  ].filter(Boolean);
  const [newly] = changed?.newly ?? [];
  const more = (changed?.newly.length ?? 0) - 1;
  const quiet = said.length === 0 && !newly && (changed?.set.length ?? 0) === 0;
  return (
    <Row testID="since-last" onPress={() => router.navigate(`/site/${site.id}/visits`)}>
      <View className="min-w-0 flex-1 gap-1">
        <T look="head">{`Since the last visit, ${momentText(from)}`}</T>
        {newly ? (
          <View className="flex-row items-center gap-2">
            <Mark verdict="over" size={18} />
            <T className="min-w-0 flex-1">
              {`New: ${pretty(sentenceOf(site.model, newly))}${more > 0 ? ` And ${more} more.` : ''}`}
            </T>
          </View>
        ) : null}
        {(changed?.set ?? []).slice(0, MOST_SETTINGS).map((one) => (
          <T key={`${one.device} ${one.setting}`}>{settingText(one)}</T>
        ))}
        {(changed?.set.length ?? 0) > MOST_SETTINGS ? (
          <T look="fact">{`and ${(changed?.set.length ?? 0) - MOST_SETTINGS} settings more`}</T>
        ) : null}
        {said.length > 0 || quiet ? <T look="fact">{quiet ? 'no changes' : said.join(', ')}</T> : null}
      </View>
    </Row>
  );
}

const MOST_SETTINGS = 3;

/** "Brackwell T85-200: absorb 56.8 V, was 56.4 V". */
function settingText({ device, setting, before, after }: Since['set'][number]): string {
  const said = (value: string) =>
    Number.isFinite(Number(value)) ? withUnit(Number(value), settingUnit(setting), 4) : value;
  return `${device}: ${settingName(setting)} ${said(after)}, ${before === null ? 'not recorded then' : `was ${said(before)}`}`;
}
