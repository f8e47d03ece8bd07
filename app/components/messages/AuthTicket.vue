<script setup lang="ts">
/**
 * Who may command over this link: what a command has to prove, the secret that is kept apart, and
 * what each way needs.
 */
import { answeredAuth, authEdit, SIGNED } from '../../../core/checks/auth-rules'
import type { Auth, Design, Link } from '../../../core/design/schema'
import { isSigned } from '../../../core/design/links/traits'
import {
  exampleCount,
  practiceSecret,
  signatureBytes,
  sealedText,
} from '../../../core/messages/sealing'
import { AUTH_NEEDS, freshSecret, secretTrouble } from '../../../core/messages/secrets'
import { shownWire } from '../../../core/design/wire'
import { useDesignStore } from '../../stores/design'

const props = defineProps<{ design: Design; link: Link }>()
const designs = useDesignStore()
const { dates, keep, forget, refused } = useSecrets(() => props.design.id)
const value = ref('')
const shown = ref(false)
const wrong = computed(() => (value.value === '' ? '' : secretTrouble(props.link, value.value)))
const since = computed(() => dates.value[props.link.id])
const KINDS: [Auth['kind'], string][] = [
  ['none', 'everybody in reach'],
  ['word', 'who knows a fixed word'],
  ['pin', 'who knows a PIN'],
  ['counter', 'who signs: counter and keyed hash'],
  ['time', 'who signs: time of day and keyed hash'],
  ['challenge', 'who signs: a number the board hands out'],
]

const NEW_AUTHS: Record<Auth['kind'], Auth> = {
  none: { kind: 'none' },
  word: { kind: 'word' },
  pin: { kind: 'pin', digits: 6 },
  counter: SIGNED,
  time: { kind: 'time', tagBytes: 8, toleranceS: 30, once: true },
  challenge: answeredAuth(10),
}

function choose(kind: Auth['kind']): void {
  designs.apply(authEdit(props.design, props.link, NEW_AUTHS[kind]))
}
function set(auth: Auth): void {
  designs.apply({ type: 'setLink', linkId: props.link.id, patch: { auth } })
}
function change(patch: { tagBytes?: number; window?: number }): void {
  if (isSigned(props.link.auth)) set({ ...props.link.auth, ...patch })
}
async function save(): Promise<void> {
  if (wrong.value || !value.value) return
  await designs.flush()
  if (await keep(props.link.id, value.value)) value.value = ''
}
function make(): void {
  value.value = freshSecret(props.link, crypto.getRandomValues(new Uint8Array(32)))
  shown.value = true
}
const example = computed(() => {
  const code = Object.values(props.link.messages[0]?.codes ?? {})[0] ?? ''
  return props.link.auth.kind === 'none' || code === ''
    ? ''
    : shownWire(
        props.link,
        sealedText(props.link, code, {
          secret: practiceSecret(props.link),
          counter: exampleCount(props.link),
        }),
      )
})
</script>

<template>
  <section class="first">
    <h3 class="title">Who may command</h3>
    <el-select
      :model-value="link.auth.kind"
      size="small"
      aria-label="Who may command"
      @change="choose"
      ><el-option v-for="[kind, words] in KINDS" :key="kind" :value="kind" :label="words"
    /></el-select>
    <dl v-if="link.auth.kind === 'pin'" class="facts">
      <dt>Digits</dt>
      <dd>
        <NumberField
          :value="link.auth.digits"
          :min="4"
          :max="12"
          unit=""
          label="Digits of the PIN"
          @change="digits => set({ kind: 'pin', digits })"
        />
      </dd>
    </dl>
    <dl v-if="isSigned(link.auth)" class="facts">
      <dt>Tag</dt>
      <dd>
        <NumberField
          :value="link.auth.tagBytes"
          :min="4"
          :max="32"
          unit="bytes"
          label="Tag"
          @change="tagBytes => change({ tagBytes })"
        />
      </dd>
      <template v-if="link.auth.kind === 'counter'">
        <dt>May come late</dt>
        <dd>
          <NumberField
            :value="link.auth.window"
            :max="31"
            unit="messages"
            label="Messages that may come late"
            @change="window => change({ window })"
          />
        </dd>
      </template>
      <template v-if="link.auth.kind === 'challenge'">
        <dt>A number is good for</dt>
        <dd>
          <NumberField
            :value="link.auth.validS"
            :min="1"
            :max="3600"
            unit="s"
            label="A number is good for"
            @change="validS => link.auth.kind === 'challenge' && set({ ...link.auth, validS })"
          />
        </dd>
      </template>
      <template v-if="link.auth.kind === 'time'">
        <dt>Clocks may differ by</dt>
        <dd>
          <NumberField
            :value="link.auth.toleranceS"
            :min="1"
            :max="3600"
            unit="s"
            label="Clocks may differ by"
            @change="toleranceS => link.auth.kind === 'time' && set({ ...link.auth, toleranceS })"
          />
        </dd>
      </template>
    </dl>
    <p v-if="link.auth.kind === 'challenge'" class="second small">
      Each command is said twice: refused with a number, then signed with it. Where whoever presses
      waits for an answer longer than a number is good, nobody can keep a command back and send it
      later.
    </p>
    <el-checkbox
      v-if="link.auth.kind === 'time'"
      :model-value="link.auth.once"
      @change="v => link.auth.kind === 'time' && set({ ...link.auth, once: v === true })"
      >A copy is refused: the board remembers the times it took</el-checkbox
    >
    <template v-if="link.auth.kind !== 'none'">
      <p v-if="example" class="small">
        On the wire, with the practice secret: <code class="wire">{{ example }}</code>
        {{ ' ' }}
        <span class="second">at most {{ signatureBytes(link) }} bytes more than the code</span>
      </p>
      <form class="secret" @submit.prevent="save">
        <el-input
          v-model="value"
          size="small"
          :type="shown ? 'text' : 'password'"
          :placeholder="since ? 'another secret' : 'the secret'"
          aria-label="Secret of this link"
          autocomplete="off"
          maxlength="40"
        />
        <el-button size="small" native-type="submit" :disabled="!value || wrong !== ''"
          >Keep</el-button
        >
        <el-button size="small" @click="make">Make one</el-button>
      </form>
      <p v-if="wrong" class="differs small">{{ wrong }}</p>
      <p v-if="refused" class="differs small" role="alert">{{ refused }}</p>
      <p class="second small">
        <template v-if="since"
          >A secret is kept on this computer since {{ dayWords(since) }}, apart from the design.
          <button type="button" class="plain under" @click="forget(link.id)">
            Forget it
          </button></template
        ><template v-else
          >None is kept yet: bench and stand-ins take a practice secret, which protects
          nothing.</template
        >
        It is left out of every export unless you tick it in on Build.
      </p>
    </template>
    <details>
      <summary>What each way needs, and what it keeps out</summary>
      <dl
        v-for="n in AUTH_NEEDS"
        :key="n.kind"
        class="need"
        :class="{ now: n.kind === link.auth.kind }"
      >
        <dt>{{ n.words }}</dt>
        <dd>
          Bytes: {{ n.bytes }}. Memory: {{ n.memory }}. Clock: {{ n.clock }}. Wear: {{ n.wear }}.
          Keeps out {{ n.protects }}; {{ n.against }}.
        </dd>
      </dl>
    </details>
  </section>
</template>

<style scoped>
.first {
  border-top: 1px solid var(--rule);
  margin-top: 14px;
  padding-top: 14px;
}
.secret {
  display: flex;
  gap: 6px;
  margin: 6px 0;
}
.secret :deep(.el-button) {
  margin: 0;
}
code {
  overflow-wrap: anywhere;
}
p {
  margin: 4px 0;
}
.facts {
  margin: 6px 0;
}
.under {
  text-decoration: underline;
  min-height: 24px;
}
summary {
  cursor: pointer;
  min-height: 28px;
}
.need {
  margin: 6px 0;
  font-size: 13px;
}
.need dt {
  font-weight: 700;
}
.need dd {
  margin: 0;
  color: var(--second);
}
.need.now dt::before {
  content: '● ';
}
</style>
