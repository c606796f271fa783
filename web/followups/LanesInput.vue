<script setup lang="ts">
import { mdiClose, mdiPlus } from '@mdi/js'
import type { Arm, BranchStep, SplitStep, Step, StepOf, WaitUntilStep } from '../../core/followups/step.ts'
import ConditionGroup from '../audience/segments/ConditionGroup.vue'
import { asGroup } from '../audience/segments/subjects.ts'
import InlineNumber from '../frame/InlineNumber.vue'

/** The ways on from a step: what they are called, who takes them. */
const step = defineModel<BranchStep | SplitStep | WaitUntilStep>({ required: true })
const set = (given: object): void => {
  step.value = { ...step.value, ...given } as Extract<Step, { kind: 'branch' | 'split' | 'waitUntil' }>
}

function setArm(branch: StepOf<'branch'>, at: number, given: Partial<Arm>): void {
  set({ arms: branch.arms.map((arm, i) => (i === at ? { ...arm, ...given } : arm)) })
}
const addArm = (branch: StepOf<'branch'>): void =>
  set({
    arms: [
      ...branch.arms,
      {
        label: `Lane ${branch.arms.length + 1}`,
        when: { kind: 'did', activity: 'emailClicked', details: {}, atLeast: 1 },
        steps: [],
      },
    ],
  })
/** What one share gets more, the last of the others gets less: they always add up to 100. */
function setShare(split: StepOf<'split'>, at: number, share: number): void {
  const other = at === split.shares.length - 1 ? 0 : split.shares.length - 1
  const rest = (split.shares[at]?.share ?? 0) + (split.shares[other]?.share ?? 0) - share
  if (share < 1 || rest < 1) return
  set({
    shares: split.shares.map((each, i) =>
      i === at ? { ...each, share } : i === other ? { ...each, share: rest } : each,
    ),
  })
}
const rename = (label: string, change: (label: string) => void): void => {
  if (label.trim()) change(label)
}
</script>

<template>
  <div class="lanes">
    <template v-if="step.kind === 'branch'">
      <fieldset v-for="(arm, i) in step.arms" :key="i" class="lane">
        <legend class="visually-hidden">Lane {{ arm.label }}</legend>
        <p class="line">
          <v-text-field
            :model-value="arm.label"
            label="Lane"
            @update:model-value="
              (label: string) => rename(label, (next) => setArm(step as StepOf<'branch'>, i, { label: next }))
            "
          />
          <v-btn
            v-if="step.arms.length > 1"
            :icon="mdiClose"
            size="x-small"
            variant="text"
            :aria-label="`Remove the lane ${arm.label}`"
            @click="set({ arms: step.arms.filter((_, n) => n !== i) })"
          />
        </p>
        <ConditionGroup
          :model-value="asGroup(arm.when)"
          :depth="0"
          @update:model-value="(when) => setArm(step as StepOf<'branch'>, i, { when })"
        />
      </fieldset>
      <v-btn size="small" variant="outlined" :prepend-icon="mdiPlus" @click="addArm(step)">Add a lane</v-btn>
      <v-text-field
        :model-value="step.otherwise.label"
        label="Lane of everybody else"
        @update:model-value="
          (label: string) =>
            rename(label, (next) =>
              set({ otherwise: { ...(step as StepOf<'branch'>).otherwise, label: next } }),
            )
        "
      />
    </template>
    <template v-if="step.kind === 'split'">
      <p v-for="(share, i) in step.shares" :key="i" class="line">
        <v-text-field
          :model-value="share.label"
          label="Lane"
          @update:model-value="
            (label: string) =>
              rename(label, (next) =>
                set({
                  shares: (step as StepOf<'split'>).shares.map((each, n) =>
                    n === i ? { ...each, label: next } : each,
                  ),
                }),
              )
          "
        />
        <InlineNumber
          :label="`Share of ${share.label}`"
          :min="1"
          :model-value="share.share"
          @update:model-value="(percent) => percent !== null && setShare(step as StepOf<'split'>, i, percent)"
        />
        %
      </p>
      <p class="soft">Everybody stays in their lane for ever, however often they come by.</p>
    </template>
    <template v-if="step.kind === 'waitUntil'">
      <v-text-field
        :model-value="step.happened.label"
        label="Lane of those who did"
        @update:model-value="
          (label: string) =>
            rename(label, (next) =>
              set({ happened: { ...(step as StepOf<'waitUntil'>).happened, label: next } }),
            )
        "
      />
      <v-text-field
        :model-value="step.otherwise.label"
        label="Lane of those who did not"
        @update:model-value="
          (label: string) =>
            rename(label, (next) =>
              set({ otherwise: { ...(step as StepOf<'waitUntil'>).otherwise, label: next } }),
            )
        "
      />
    </template>
  </div>
</template>

<style scoped>
.lanes {
  display: grid;
  gap: 10px;
  justify-items: start;
  justify-self: stretch;
}

.lanes > .v-input,
.lane {
  justify-self: stretch;
}

.lanes p {
  margin: 0;
}

.line {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px;
  width: 100%;
}

.line .v-text-field:not(.inline) {
  min-width: 180px;
}

.lane {
  border: 0;
  border-left: 2px solid var(--rule);
  padding: 0 0 0 10px;
  display: grid;
  gap: 8px;
}
</style>
