import type { Preferences } from '../../server/audience/people/preferences.ts'
import type { Business } from '../../server/workspace/models.ts'
import { html, type Html } from '../../core/html.ts'

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
    <h2>Topics</h2>
    ${topics.map(
      (topic) =>
        html`<label class="tick"
          ><input type="checkbox" name="topic" value="${topic.id}" ${topic.agreed && html`checked`} />
          <span><strong>${topic.name}</strong> ${topic.description}</span></label
        >`,
    )}
    <button name="do" value="topics">Save topics</button>
  </form>`
}

/** The page on which one person chooses what they get. Every choice is one form with one button. */
export function preferencesBody(
  chosen: Preferences,
  { name: business, zone }: Pick<Business, 'name' | 'zone'>,
  said: string | null,
): Html {
  const { contact, pausedUntil, untracked } = chosen
  const paused = pausedUntil !== null
  return html`<h1>Your email from ${business}</h1>
    ${said && html`<p class="notice" role="status">${said}</p>`}
    <p>
      These are the preferences of ${contact.address}. Keep the link to this page to yourself.
      ${contact.marketingState === 'unsubscribed' && html`You are unsubscribed: you get no news or offers.`}
    </p>
    <div class="choices">
      ${topicBoxes(chosen)}
      <form method="post">
        <h2>Take a break</h2>
        ${
          paused
            ? html`<p>No news or offers until ${dayIn(pausedUntil, zone)}.</p>
                <button name="do" value="resume">Resume now</button>`
            : html`<p>No news or offers for 30 days. You still get what you ask for yourself.</p>
                <button name="do" value="pause">Pause for 30 days</button>`
        }
      </form>
      <form method="post">
        <h2>Opens and clicks</h2>
        ${
          untracked
            ? html`<p>We do not count whether you open our emails and which links you follow.</p>
                <button name="do" value="track">Count them again</button>`
            : html`<p>
                  We count whether you open our emails and which links you follow, to write better ones.
                </p>
                <button name="do" value="untrack">Do not count them</button>`
        }
      </form>
      <form method="post">
        <h2>Change address</h2>
        <label
          >New email address <input type="email" name="address" autocomplete="email" maxlength="254"
        /></label>
        <button name="do" value="address">Send confirmation link</button>
      </form>
      <form method="post">
        <h2>Unsubscribe</h2>
        <p>No more news or offers, whatever is ticked above.</p>
        <button name="do" value="unsubscribe">Unsubscribe from everything</button>
      </form>
      <form method="post">
        <h2>Your data</h2>
        <p>Everything we have stored about you, as a file that any program can read.</p>
        <button name="do" value="data">Download my data</button>
      </form>
      <form method="post">
        <h2>Delete my data</h2>
        <p>Everything is deleted at once and cannot be restored.</p>
        <label class="tick"
          ><input type="checkbox" name="sure" value="yes" />
          <span>Yes, delete everything about me</span></label
        >
        <button name="do" value="erase">Delete everything</button>
      </form>
    </div>`
}
