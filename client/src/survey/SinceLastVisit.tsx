import { counted } from '@true-lantern/core';
import { router } from 'expo-router';
import { View } from 'react-native';
import { useOpenSite } from '../data/open-site';
import { readingsOf } from '../data/readings';
import { isSigned, visitsOf } from '../data/visits';
import { Row } from '../kit/controls';
import { momentText } from '../kit/dates';
import { T } from '../kit/text';

/** A next visit opens with what has been since the last one that was signed. */
export function SinceLastVisit() {
  const site = useOpenSite();
  const last = visitsOf(site).find(isSigned);
  if (!last?.at) return null;
  const since = last.at;
  const later = <T extends { at?: string | null | undefined }>(list: readonly T[]) =>
    list.filter(({ at }) => (at ?? '') > since).length;
  const readings = later(readingsOf(site).filter(({ visit }) => visit !== last.id));
  const photos = later((site.file.attachments ?? []).map(({ at }) => ({ at })));
  const fitted = later((site.file.proposals ?? []).flatMap(({ closed }) => (closed?.as === 'fitted' ? [closed] : [])));
  const said = [
    readings > 0 ? counted(readings, 'reading') : null,
    photos > 0 ? counted(photos, 'photo or note', 'photos or notes') : null,
    fitted > 0 ? `${counted(fitted, 'proposal')} fitted` : null,
  ].filter(Boolean);
  return (
    <Row testID="since-last" onPress={() => router.navigate(`/site/${site.id}/visits`)}>
      <View className="min-w-0 flex-1">
        <T look="head">{`Since the last visit, ${momentText(since)}`}</T>
        <T look="fact">{said.length > 0 ? said.join(', ') : 'nothing new'}</T>
      </View>
    </Row>
  );
}
