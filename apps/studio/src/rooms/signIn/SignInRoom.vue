<script setup lang="ts">
import { Form, type FormSubmitEvent } from '@primevue/forms';
import { zodResolver } from '@primevue/forms/resolvers/zod';
import Button from 'primevue/button';
import Message from 'primevue/message';
import Password from 'primevue/password';
import { onMounted, ref } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { ENDPOINTS } from '@zographos/contracts';
import { call, CallError } from '../../api/call.ts';

const route = useRoute();
const router = useRouter();
const resolver = zodResolver(ENDPOINTS.signIn.body);
const refusal = ref<string | null>(null);
const asking = ref(false);

onMounted(() => {
  document.title = 'Sign in – Zographos';
});

async function signIn({ valid, values }: FormSubmitEvent): Promise<void> {
  if (!valid) return;
  asking.value = true;
  refusal.value = null;
  try {
    await call(ENDPOINTS.signIn, {}, values as { passphrase: string });
    const { to } = route.query;
    // Only to a page of the studio itself.
    await router.replace(typeof to === 'string' && /^\/(?!\/)/.test(to) ? to : '/');
  } catch (error) {
    if (!(error instanceof CallError)) throw error;
    refusal.value = error.message;
  } finally {
    asking.value = false;
  }
}
</script>

<template>
  <main class="sign-in">
    <h1>Zographos</h1>
    <section class="panel">
      <h2>Sign in</h2>
      <Form v-slot="$form" :resolver="resolver" :initial-values="{ passphrase: '' }" @submit="signIn">
        <label for="passphrase">Passphrase of this server</label>
        <Password
          input-id="passphrase"
          name="passphrase"
          :feedback="false"
          :input-props="{ autocomplete: 'current-password', autofocus: true }"
          fluid
        />
        <Message v-if="$form['passphrase']?.invalid" severity="error" size="small" variant="simple">
          Type the passphrase.
        </Message>
        <Message v-if="refusal" severity="error" size="small" variant="simple" role="alert">{{ refusal }}</Message>
        <Button type="submit" label="Sign in" :loading="asking" />
      </Form>
      <p class="soft">Whoever started the server set it, as ZOGRAPHOS_PASSPHRASE.</p>
    </section>
  </main>
</template>

<style scoped>
.sign-in {
  display: grid;
  gap: 12px;
  align-content: start;
  max-width: 420px;
  margin: 0 auto;
  padding: 96px 20px;
}

h1 {
  font-size: 26px;
  font-weight: 750;
  letter-spacing: -0.01em;
}

form {
  display: grid;
  gap: 8px;
}

form :deep(.p-button) {
  justify-self: start;
}

p {
  margin-top: 12px;
}
</style>
