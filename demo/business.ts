/** Quillfeather Bindery, invented. */
export const business = {
  name: 'Quillfeather Bindery',
  postalAddress: '4 Sizing Lane, Dublin, Ireland (an invented place)',
  senderName: 'Mara Ellery',
  senderAddress: 'mara@quillfeather.example',
  zone: 'Europe/Dublin',
  currency: 'EUR',
}
