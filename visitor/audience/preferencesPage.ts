import type { Preferences } from '../../server/audience/people/preferences.ts'
import type { Business } from '../../server/workspace/models.ts'
import { html, type Html } from '../html.ts'

/** A day on the business's calendar. */
const dayIn = (at: Date, zone: string): string =>
  new Intl.DateTimeFormat('en-GB', {
    day: 'numeric',
    month: 'long',
    year: 'numeric',
    timeZone: zone,
  }).format(at)

function topicBoxes({ topics }: Preferences): Html {
  if (topics.length === 0) return html``
  return html`<form method="post">
    <h2>What you want to read</h2>
    ${topics.map(
      (topic) =>
        html`<label class="tick"
          ><input type="checkbox" name="topic" value="${topic.id}" ${topic.agreed && html`checked`} />
          <span><strong>${topic.name}</strong> ${topic.description}</span></label
        >`,
    )}
    <button name="do" value="topics">Save what I want to read</button>
  </form>`
}

/** The page on which one person chooses what they get. Every choice is one form with one button. */
export function preferencesBody(
  chosen: Preferences,
  { name: business, zone }: Pick<Business, 'name' | 'zone'>,
  said: string | null,
): Html {
  const { contact, pausedUntil } = chosen
  const paused = pausedUntil !== null
  return html`<h1>What ${business} sends you</h1>
    ${said && html`<p class="notice" role="status">${said}</p>`}
    <p>
      This page is yours alone: it belongs to ${contact.address}.
      ${contact.marketingState === 'unsubscribed' && html`You are unsubscribed: no news and offers go to you.`}
    </p>
    <div class="choices">
      ${topicBoxes(chosen)}
      <form method="post">
        <h2>Take a break</h2>
        ${
          paused
            ? html`<p>No news and offers until ${dayIn(pausedUntil, zone)}.</p>
                <button name="do" value="resume">Write to me again now</button>`
            : html`<p>No news and offers for 30 days. What you ask for yourself still comes.</p>
                <button name="do" value="pause">Pause for 30 days</button>`
        }
      </form>
      <form method="post">
        <h2>Another address</h2>
        <label
          >New email address <input type="email" name="address" autocomplete="email" maxlength="254"
        /></label>
        <button name="do" value="address">Send me a link there</button>
      </form>
      <form method="post">
        <h2>No more email</h2>
        <p>No news and offers at all, whatever is ticked above.</p>
        <button name="do" value="unsubscribe">Unsubscribe me from everything</button>
      </form>
      <form method="post">
        <h2>What is known of you</h2>
        <p>Everything that is stored, as a file that any program can read.</p>
        <button name="do" value="data">Get my data</button>
      </form>
      <form method="post">
        <h2>Be forgotten</h2>
        <p>All of it is deleted at once, and cannot be brought back.</p>
        <label class="tick"
          ><input type="checkbox" name="sure" value="yes" />
          <span>Yes, erase everything about me</span></label
        >
        <button name="do" value="erase">Erase me</button>
      </form>
    </div>`
}
