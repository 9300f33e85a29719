import { router, type Href } from 'expo-router';
import { useState, type PropsWithChildren, type ReactNode } from 'react';
import { Image, ScrollView, View } from 'react-native';
import { useFirm } from '../data/firm';
import { useSite, type OpenSite } from '../data/site';
import { Button, Plain, Waiting } from './controls';
import { dayText } from './dates';
import { PaperGround } from './ground';
import { PdfButton, PrintButton, usePaperSize, type PdfKind } from './print';
import { Heading, T } from './text';
import { WORDS } from './words';

/** What a paper is about, and where one comes from and goes back to. */
interface PaperPageProps<S> {
  siteId: string;
  /** What of the site it is about; undefined where that is not there any more. */
  find(site: OpenSite): S | undefined;
  /** Said where it is not. */
  gone: string;
  print?: string;
  pdf: PdfKind;
  about: string;
  back: Href;
  children(site: OpenSite, subject: S): ReactNode;
}

/** A paper on its page: black on white, with buttons above it that are not printed. */
export function PaperPage<S>({ siteId, find, gone, print, pdf, about, back, children }: PaperPageProps<S>) {
  const { site, error } = useSite(siteId);
  if (error && !site) return <Plain title="This site cannot be opened." text={error.message} />;
  if (!site) return <Waiting what="Opening the site ..." />;
  const subject = find(site);
  if (subject === undefined) return <Plain title={gone} />;
  return (
    <PaperGround>
      <ScrollView>
        <View role="main" className="mx-auto w-full max-w-[760px] px-[18px] pb-16 pt-6">
          <View className="flex-row flex-wrap gap-3 pb-6 print:hidden">
            <PrintButton {...(print ? { label: print } : {})} />
            <PdfButton siteId={siteId} kind={pdf} about={about} />
            <Button label={WORDS.back} onPress={() => router.navigate(back)} />
          </View>
          {children(site, subject)}
        </View>
      </ScrollView>
    </PaperGround>
  );
}

interface PaperSheetProps {
  testID: string;
  title: string;
  /** Whose it is, under the title. */
  under: string;
  /** An offer says how long it stands. */
  offer?: boolean;
}

/** The sheet itself: the firm's head, a title, what it says. */
export function PaperSheet({ testID, title, under, offer = false, children }: PropsWithChildren<PaperSheetProps>) {
  const { firm } = useFirm();
  usePaperSize(firm?.sheet.paper);
  return (
    <View nativeID="paper" testID={testID}>
      <PaperHead offer={offer} />
      <Heading look="lead" className="pt-5">
        {title}
      </Heading>
      <T look="fact" className="pb-3">
        {under}
      </T>
      {children}
    </View>
  );
}

/** A part of a paper under its heading; nothing where there is nothing to say. */
export const PaperPart = ({ title, shown = true, children }: PropsWithChildren<{ title: string; shown?: boolean }>) =>
  shown ? (
    <View className="pt-5">
      <Heading level={2} look="station">
        {title}
      </Heading>
      {children}
    </View>
  ) : null;

/** Stands under every paper that is worked by. */
export const PLANNING_VALUES =
  'Figures are planning values for a competent person; local codes, the maker\u2019s manual and a licensed electrician come first where the law asks for one.';

/** The head of every paper: the firm's own name, address and mark, and the day; an offer says how long it stands. */
function PaperHead({ offer }: { offer: boolean }) {
  const { firm } = useFirm();
  const [today] = useState(() => dayText(new Date()));
  return (
    <View className="flex-row items-end justify-between gap-4 border-b-2 border-ink pb-2">
      <View className="min-w-0 flex-1">
        {firm?.sheet.logo ? (
          <Image
            accessibilityLabel={firm.name}
            source={{ uri: firm.sheet.logo }}
            style={{ width: 180, height: 60 }}
            resizeMode="contain"
          />
        ) : null}
        <T look="station">{firm?.name ?? ''}</T>
        {firm?.sheet.address ? <T look="fact">{firm.sheet.address}</T> : null}
      </View>
      <T look="fact">
        {today}
        {offer && firm?.sheet.validity_d ? `; valid for ${firm.sheet.validity_d} days` : ''}
      </T>
    </View>
  );
}
