import { router } from 'expo-router';
import { ScrollView, View } from 'react-native';
import { useOpenSite } from '../data/open-site';
import { useMayWrite } from '../data/session';
import { rowOfPart, setFields } from '../data/site';
import { SchoolsEntry } from '../entry/SchoolsEntry';
import { T } from '../ui/text';
import { Top } from '../ui/top';

/** The practice that this site's verdicts follow, where the firm's own is not meant. */
export function SchoolsScreen() {
  const site = useOpenSite();
  const mayWrite = useMayWrite();
  const row = rowOfPart(site, 'schools');
  return (
    <View className="flex-1">
      <Top title="Design standards" onBack={() => router.navigate(`/site/${site.id}/more`)} />
      <ScrollView>
        <View className="max-w-[640px] pb-8">
          <T look="fact" className="px-[18px] pt-3">
            Experts differ on these. Each finding names the standard used. Local codes always come first.
          </T>
          <SchoolsEntry
            schools={site.model.schools}
            site={site.model.site}
            disabled={!mayWrite || !row}
            onChange={(field, value) => row && setFields(site, row, { [field]: value })}
          />
        </View>
      </ScrollView>
    </View>
  );
}
