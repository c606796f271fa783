<template>
  <div class="screen">
    <h1>Nothing stops here</h1>
    <p>This address belongs to no screen. <router-link to="/today">Go to Today</router-link>.</p>
  </div>
</template>
