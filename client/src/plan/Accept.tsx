import {
  makeOffer,
  numberOf,
  type PartsList,
  type Model,
  type Offer,
  type Proposal,
  type Proposed,
} from '@true-lantern/core';
import { hidesPrices, PRICES_HIDDEN, termsOf } from '@true-lantern/wire';
import { useState } from 'react';
import { View } from 'react-native';
import { useFirm } from '../data/firm';
import { useOpenSite } from '../data/open-site';
import { acceptProposal } from '../data/proposals';
import { useMayWrite, usePerson } from '../data/session';
import { Button } from '../ui/controls';
import { momentText } from '../ui/dates';
import { TextField } from '../ui/field';
import { useGround } from '../ui/ground';
import { Signature, SignaturePad } from '../ui/signature';
import { Heading, T } from '../ui/text';
import { WORDS } from '../ui/words';
import { OfferLink } from './OfferLink';

interface AcceptProps {
  proposal: Proposal;
  after: Model;
  result: Proposed['result'];
  partsList: PartsList;
  /** Changes that no longer apply: what is shown is not what the proposal says. */
  lost: number;
}

/** The customer accepts on this phone: name, signature, and the whole offer as it stands, kept from then on. */
export function Accept({ proposal, after, result, partsList, lost }: AcceptProps) {
  const site = useOpenSite();
  const person = usePerson();
  const mayWrite = useMayWrite();
  const { firm } = useFirm();
  const [open, setOpen] = useState(false);
  const [name, setName] = useState('');
  const [strokes, setStrokes] = useState('');
  if (proposal.accepted) return <Accepted proposal={proposal} />;
  if (!mayWrite || proposal.closed) return null;
  if (!open) return <Button label="Customer accepts" onPress={() => setOpen(true)} />;
  // Off line the firm's tax and validity may not be here: an offer without them is another offer.
  const why = !firm
    ? 'The firm sheet is not on this device. It will load when you have a signal.'
    : hidesPrices(firm.sheet)
      ? PRICES_HIDDEN
      : lost > 0
        ? 'Some changes no longer apply to the survey. Sort those out first.'
        : null;
  const accept = () => {
    if (!firm) return;
    const at = new Date().toISOString();
    const terms = termsOf(firm.name, firm.sheet);
    const offer = makeOffer(site.model, after, { proposal, result, partsList, terms, at });
    acceptProposal(site, proposal.id, {
      name: name.trim(),
      at,
      by: person.name,
      strokes,
      offer,
      number: numberOf(offer),
    });
    setOpen(false);
  };
  return (
    <View className="gap-3 border-l-[5px] border-l-lamp bg-well p-4" testID="accept">
      <Heading level={2} look="station">
        Customer accepts this offer
      </Heading>
      {why ? (
        <T role="alert">{why}</T>
      ) : (
        <>
          <T look="fact">
            What is fixed, what stays over, every part, price and tax as shown above is kept with the signature. Later
            changes do not alter it.
          </T>
          <TextField label="Customer’s name" value={name} onChangeText={setName} />
          <SignaturePad label="Customer’s signature" strokes={strokes} onChange={setStrokes} />
          <Button kind="main" label="Accept" disabled={name.trim() === '' || strokes === ''} onPress={accept} />
          <OfferLink siteId={site.id} proposal={proposal} />
        </>
      )}
      <Button label={WORDS.cancel} onPress={() => setOpen(false)} />
    </View>
  );
}

/** Who accepted it and when, what it came to, and the number by which the accepted text is known. */
export function Accepted({ proposal }: { proposal: Proposal }) {
  const { colours } = useGround();
  const { accepted } = proposal;
  if (!accepted) return null;
  const offer: Partial<Offer> | null | undefined = accepted.offer;
  return (
    <View className="gap-1 border-2 border-ink p-4" testID="accepted">
      <T look="head">{`Accepted by ${accepted.name ?? ''}, ${momentText(accepted.at ?? '')}`}</T>
      {Object.entries(offer?.totals ?? {}).map(([currency, { gross, tax }]) => (
        <T key={currency}>{`${gross} ${currency}${tax > 0 ? `, of which tax ${tax}` : ''}`}</T>
      ))}
      {(offer?.unpriced ?? 0) > 0 ? <T>{`${offer?.unpriced} parts without a price`}</T> : null}
      {accepted.strokes ? (
        <View style={{ width: 200, height: 81 }}>
          <Signature strokes={accepted.strokes} colour={colours.ink} />
        </View>
      ) : null}
      <T look="small">{`${accepted.by ? `Signed on the phone of ${accepted.by}` : 'Signed on the page of the offer'}. Number ${(accepted.number ?? '').slice(0, 16)}`}</T>
      {accepted.number && numberOf(accepted.offer) !== accepted.number ? (
        <T role="alert">The kept offer does not match its number: it was altered.</T>
      ) : null}
    </View>
  );
}
