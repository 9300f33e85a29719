import { writeSystemFile } from '@true-lantern/core';
import { router } from 'expo-router';
import { useState } from 'react';
import { ScrollView, View } from 'react-native';
import { packSite, templateOf } from '../data/bundle';
import { fileName, saveFile, saveTextFile } from '../data/files';
import { useOpenSite } from '../data/open-site';
import { enqueueSite } from '../data/outbox';
import { useMayWrite } from '../data/session';
import { archiveSite } from '../data/site';
import { Row } from '../ui/controls';
import { T } from '../ui/text';
import { Top } from '../ui/top';
import { offerUndo } from '../ui/undo';

/** What can be done with a whole site. */
export function MoreScreen() {
  const site = useOpenSite();
  const mayWrite = useMayWrite();
  const [note, setNote] = useState<string | null>(null);
  const { name } = site.file.site;
  const stem = fileName(name);
  const exportAll = async () => {
    setNote('Packing ...');
    const { blob, lacking } = await packSite(site);
    saveFile(`${stem}.lantern.zip`, blob);
    setNote(
      lacking === 0
        ? null
        : `${lacking === 1 ? '1 attachment is' : `${lacking} attachments are`} not on this device and not in the zip; try again with a signal.`,
    );
  };
  const template = () => router.replace(`/site/${enqueueSite(templateOf(site.file, `${name} (copy)`))}`);
  const archive = () => {
    archiveSite(site.id, true);
    router.replace('/');
    offerUndo(`${name} was archived.`, () => archiveSite(site.id, false));
  };
  const items: [label: string, fact: string, act: () => void, id: string][] = [
    ['Roof', 'what fits, what is in the way, what shade costs', () => router.navigate(`/site/${site.id}/roof`), 'roof'],
    [
      'Papers',
      'survey and check report, offers, parts and cuts, records, log',
      () => router.navigate(`/site/${site.id}/papers`),
      'papers',
    ],
    [
      'History',
      'who changed what, when; undo any change',
      () => router.navigate(`/site/${site.id}/history`),
      'history',
    ],
    [
      'Design standards',
      'the standards this site is checked against',
      () => router.navigate(`/site/${site.id}/schools`),
      'schools',
    ],
    [
      'Export the system file',
      'one open JSON file, without photos',
      () => saveTextFile(`${stem}.lantern.json`, writeSystemFile(site.file)),
      'export',
    ],
    ['Export everything', 'one zip: system file, photos, spoken notes', () => void exportAll(), 'export-zip'],
    ...(mayWrite
      ? ([
          ['Use as a template', 'a new site with the same parts, without readings and photos', template, 'template'],
          ['Archive', 'removed from the list; nothing is lost', archive, 'archive'],
        ] as [string, string, () => void, string][])
      : []),
  ];
  return (
    <View className="flex-1">
      <Top title="This site" onBack={() => router.navigate(`/site/${site.id}`)} />
      <ScrollView>
        <View className="max-w-[640px] pb-8">
          {items.map(([label, fact, act, id]) => (
            <Row key={id} testID={`more-${id}`} aria-label={label} onPress={act}>
              <View className="min-w-0 flex-1">
                <T look="head">{label}</T>
                <T look="fact">{fact}</T>
              </View>
            </Row>
          ))}
          {note ? (
            <T role="status" className="px-[18px] py-3">
              {note}
            </T>
          ) : null}
        </View>
      </ScrollView>
    </View>
  );
}
