import type { Database } from './database';
import type { AttachmentRow } from './models';

/** Every query of this file takes the firm: a row of another firm does not exist. */

/** The bytes of a photo or a spoken note, with the thumbnail of a photo. */
export type Stored = Pick<AttachmentRow, 'type' | 'body' | 'small'>;

/** Whether an id is free, this site's already, or another's. */
export async function attachmentStanding(
  { models }: Database,
  firmId: string,
  siteId: string,
  id: string,
): Promise<'free' | 'known' | 'taken'> {
  const known = await models.Attachment.findByPk(id, { attributes: ['id', 'firmId', 'siteId'] });
  if (!known) return 'free';
  return known.firmId === firmId && known.siteId === siteId ? 'known' : 'taken';
}

/** Keeps the bytes of an attachment whose id is free: `attachmentStanding` tells. */
export const storeAttachment = ({ models }: Database, firmId: string, siteId: string, id: string, stored: Stored) =>
  models.Attachment.create({ id, firmId, siteId, ...stored });

/** The bytes of an attachment, of this firm and this site only; null where there are none. */
export const findAttachment = ({ models }: Database, firmId: string, siteId: string, id: string) =>
  models.Attachment.findOne({ where: { id, siteId, firmId } });
