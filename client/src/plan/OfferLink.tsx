import type { Proposal } from '@true-lantern/core';
import type { OfferLinkMade } from '@true-lantern/wire';
import { View } from 'react-native';
import { endOffer, makeOfferLink, useGivenAgain, useOfferLinks } from '../data/given';
import { useMine } from '../data/outbox';
import { Button } from '../ui/controls';
import { useAttempt } from '../ui/attempt';
import { LinksOut } from '../ui/links-out';
import { Qr } from '../ui/qr';
import { T } from '../ui/text';
import { ToldOnce } from '../ui/told-once';
import { WORDS } from '../ui/words';

/** The offer on a page of its own: the customer reads and signs it wherever they are. */
export function OfferLink({ siteId, proposal }: { siteId: string; proposal: Proposal }) {
  const { data } = useOfferLinks(siteId, proposal.id);
  const { made, trouble, attempt } = useAttempt<OfferLinkMade>(useGivenAgain());
  // The server makes the offer from what it has: what is not there yet would be missing in it.
  const unsent = useMine().some((entry) => entry.siteId === siteId);
  return (
    <View className="gap-3" testID="offer-link">
      <T look="fact">
        Or share a link: the customer reads the offer on their own device and signs there. The offer stays as it is when
        you share it; a later change to the proposal ends it.
      </T>
      {trouble ? <T role="alert">{trouble}</T> : null}
      {unsent && !made ? (
        <T role="status">Changes on this device are not sent yet. The link can be made once they are.</T>
      ) : made ? (
        <ToldOnce
          text={made.address}
          copy="Copy address"
          says="It is shown only once. Anyone who has it can read and accept the offer."
          shown={<Qr code={made.qr} label="QR code of the offer" />}
          testID="offer-address"
        />
      ) : (
        <Button label={WORDS.shareLink} onPress={() => void attempt(() => makeOfferLink(siteId, proposal.id))} />
      )}
      <LinksOut
        title="Open offers"
        what="offer"
        links={data?.links ?? []}
        end={(id) => endOffer(siteId, proposal.id, id)}
      />
    </View>
  );
}
